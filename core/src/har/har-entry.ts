import { HarProblem } from './har-problem.js'
import type { HarEntry, HarPage, HarStack } from './har.js'

/** Deeper than any recorder keeps a stack; what is beyond is not looked at. */
const MOST_PARENTS = 60

/** @throws HarProblem at the first field that is not as the specification has it; fields that Unvelt doesn't read may be anything. */
export function checkedEntry(value: unknown, at: string): HarEntry {
  const entry = record(value, at)
  optional(entry.pageref, `${at}.pageref`, isText, 'a text')
  date(entry.startedDateTime, `${at}.startedDateTime`)
  optional(entry.time, `${at}.time`, isNumber, 'milliseconds')
  const request = record(entry.request, `${at}.request`)
  must(isText(request.url) && URL.canParse(request.url), `${at}.request.url`, 'an address')
  must(isText(request.method), `${at}.request.method`, 'a text')
  optional(request.httpVersion, `${at}.request.httpVersion`, isText, 'a text')
  checkResponse(record(entry.response, `${at}.response`), `${at}.response`)
  orNull(entry.cache, `${at}.cache`, isRecord, 'an object')
  if (isRecord(entry.timings))
    for (const part of ['blocked', 'dns', 'connect', 'ssl', 'send', 'wait'])
      orNull(entry.timings[part], `${at}.timings.${part}`, isNumber, 'milliseconds')
  else orNull(entry.timings, `${at}.timings`, isRecord, 'an object')
  orNull(entry._resourceType, `${at}._resourceType`, isText, 'a text')
  orNull(entry._priority, `${at}._priority`, isText, 'a text')
  orNull(entry._initiator, `${at}._initiator`, isRecord, 'an object')
  if (isRecord(entry._initiator)) checkInitiator(entry._initiator, `${at}._initiator`)
  return entry as unknown as HarEntry
}

function checkResponse(response: Record<string, unknown>, at: string): void {
  const { status, headers } = response
  must(
    Number.isInteger(status) && (status as number) >= -1 && (status as number) < 1_000,
    `${at}.status`,
    'a whole number below 1,000',
  )
  must(Array.isArray(headers), `${at}.headers`, 'a list')
  ;(headers as unknown[]).forEach((header, n) => {
    const { name, value } = record(header, `${at}.headers[${n}]`)
    must(isText(name) && isText(value), `${at}.headers[${n}]`, 'a name and a value')
  })
  optional(response.httpVersion, `${at}.httpVersion`, isText, 'a text')
  for (const size of ['headersSize', 'bodySize', '_transferSize'])
    orNull(response[size], `${at}.${size}`, isNumber, 'a number of bytes, or -1')
  for (const text of ['redirectURL', '_failureText', '_error'])
    orNull(response[text], `${at}.${text}`, isText, 'a text')
  const content = record(response.content, `${at}.content`)
  optional(content.size, `${at}.content.size`, isNumber, 'a number of bytes, or -1')
  for (const text of ['mimeType', 'text', 'encoding'])
    optional(content[text], `${at}.content.${text}`, isText, 'a text')
}

function checkInitiator(said: Record<string, unknown>, at: string): void {
  orNull(said.type, `${at}.type`, isText, 'a text')
  orNull(said.url, `${at}.url`, isText, 'an address')
  orNull(said.lineNumber, `${at}.lineNumber`, isNumber, 'a number')
  let path = `${at}.stack`
  let stack = said.stack
  for (let depth = 0; stack !== undefined && stack !== null && depth < MOST_PARENTS; depth++) {
    const { callFrames, parent } = record(stack, path)
    must(Array.isArray(callFrames), `${path}.callFrames`, 'a list')
    ;(callFrames as unknown[]).forEach((frame, n) => {
      const place = `${path}.callFrames[${n}]`
      const { url, lineNumber, columnNumber } = record(frame, place)
      must(isText(url), `${place}.url`, 'a text')
      must(isNumber(lineNumber), `${place}.lineNumber`, 'a number')
      optional(columnNumber, `${place}.columnNumber`, isNumber, 'a number')
    })
    stack = parent
    path += '.parent'
  }
}

export function checkedPage(value: unknown, at: string): HarPage {
  const page = record(value, at)
  must(isText(page.id), `${at}.id`, 'a text')
  date(page.startedDateTime, `${at}.startedDateTime`)
  orNull(page.title, `${at}.title`, isText, 'a text')
  orNull(page.pageTimings, `${at}.pageTimings`, isRecord, 'an object')
  if (isRecord(page.pageTimings))
    for (const event of ['onContentLoad', 'onLoad'])
      orNull(page.pageTimings[event], `${at}.pageTimings.${event}`, isNumber, 'milliseconds, or -1')
  return page as unknown as HarPage
}

function must(holds: boolean, at: string, expected: string): void {
  if (!holds) throw new HarProblem(at, expected)
}

function record(value: unknown, at: string): Record<string, unknown> {
  must(isRecord(value), at, 'an object')
  return value as Record<string, unknown>
}

const optional = (value: unknown, at: string, is: (value: unknown) => boolean, expected: string) =>
  must(value === undefined || is(value), at, expected)
/** Recorders write null for what they don't know. */
const orNull = (value: unknown, at: string, is: (value: unknown) => boolean, expected: string) =>
  must(value === undefined || value === null || is(value), at, expected)
const date = (value: unknown, at: string) =>
  must(isText(value) && !Number.isNaN(Date.parse(value)), at, 'a date and time')

const isText = (value: unknown): value is string => typeof value === 'string'
const isNumber = (value: unknown) => typeof value === 'number' && Number.isFinite(value)
const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

/** The frames of a stack with those of its parents behind it, as far as anybody needs them. */
export function* framesOf(stack: HarStack | null | undefined): Generator<HarStack['callFrames'][number]> {
  let depth = 0
  for (let at = stack; at && depth < MOST_PARENTS; at = at.parent, depth++) yield* at.callFrames
}
