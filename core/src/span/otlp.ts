import type { Span } from './span.js'

/** A place in a request and what was expected there. */
export interface SpanProblem {
  /** JSON Pointer (RFC 6901). */
  at: string
  expected: string
}

const MOST_ATTRIBUTES = 64
const LONGEST_TEXT = 2_000

/**
 * Reads an OTLP `ExportTraceServiceRequest` in its JSON form (OpenTelemetry Protocol 1.x, ids in hexadecimal, times as
 * nanoseconds in a decimal string). Either every span is sound, or the first problem of each is named and none is taken.
 */
export function readOtlpTraces(value: unknown): { spans: Span[] } | { problems: SpanProblem[] } {
  const problems: SpanProblem[] = []
  const spans: Span[] = []
  const resources = list(value, 'resourceSpans')
  if (!resources) return { problems: [{ at: '/resourceSpans', expected: 'a list' }] }
  const inside = (value: unknown, key: string, at: string): unknown[] => {
    if (!isRecord(value)) problems.push({ at, expected: 'an object' })
    else if (value[key] !== undefined && value[key] !== null && !Array.isArray(value[key]))
      problems.push({ at: `${at}/${key}`, expected: 'a list' })
    return list(value, key) ?? []
  }
  resources.forEach((resource, r) =>
    inside(resource, 'scopeSpans', `/resourceSpans/${r}`).forEach((scope, s) =>
      inside(scope, 'spans', `/resourceSpans/${r}/scopeSpans/${s}`).forEach((span, n) => {
        const at = `/resourceSpans/${r}/scopeSpans/${s}/spans/${n}`
        const read = readSpan(span, at)
        if ('expected' in read) problems.push(read)
        else spans.push(read)
      }),
    ),
  )
  return problems.length > 0 ? { problems } : { spans }
}

function readSpan(value: unknown, at: string): Span | SpanProblem {
  if (!isRecord(value)) return { at, expected: 'an object' }
  const { traceId, spanId, parentSpanId, name, kind, startTimeUnixNano, endTimeUnixNano } = value
  if (!isHex(traceId, 32)) return { at: `${at}/traceId`, expected: '32 hexadecimal digits' }
  if (!isHex(spanId, 16)) return { at: `${at}/spanId`, expected: '16 hexadecimal digits' }
  const hasParent = parentSpanId !== undefined && parentSpanId !== null && parentSpanId !== ''
  if (hasParent && !isHex(parentSpanId, 16)) return { at: `${at}/parentSpanId`, expected: '16 hexadecimal digits' }
  const startMs = milliseconds(startTimeUnixNano)
  const endMs = milliseconds(endTimeUnixNano)
  if (startMs === null) return { at: `${at}/startTimeUnixNano`, expected: 'nanoseconds' }
  if (endMs === null || endMs < startMs)
    return { at: `${at}/endTimeUnixNano`, expected: 'nanoseconds, not before the start' }
  if (value.attributes !== undefined && value.attributes !== null && !Array.isArray(value.attributes))
    return { at: `${at}/attributes`, expected: 'a list' }
  return {
    traceId: traceId.toLowerCase(),
    spanId: spanId.toLowerCase(),
    parentId: hasParent ? (parentSpanId as string).toLowerCase() : null,
    name: typeof name === 'string' ? name.slice(0, LONGEST_TEXT) : '',
    startMs,
    endMs,
    attributes: readAttributes(list(value, 'attributes') ?? []),
    server: kind === 2 || kind === 'SPAN_KIND_SERVER',
    failure: failureOf(value.status),
  }
}

function failureOf(status: unknown): string | null {
  if (!isRecord(status) || (status.code !== 2 && status.code !== 'STATUS_CODE_ERROR')) return null
  return typeof status.message === 'string' && status.message !== '' ? status.message.slice(0, LONGEST_TEXT) : 'failed'
}

function readAttributes(values: unknown[]): Span['attributes'] {
  // The keys come from outside; none of them may mean what it means to every object.
  const attributes = Object.create(null) as Span['attributes']
  for (const entry of values.slice(0, MOST_ATTRIBUTES)) {
    if (!isRecord(entry) || typeof entry.key !== 'string' || !isRecord(entry.value)) continue
    const { stringValue, intValue, doubleValue, boolValue } = entry.value
    const key = entry.key.slice(0, 200)
    if (typeof stringValue === 'string') attributes[key] = stringValue.slice(0, LONGEST_TEXT)
    else if (typeof boolValue === 'boolean') attributes[key] = boolValue
    else {
      const number = numberOf(intValue ?? doubleValue)
      if (number !== null) attributes[key] = number
    }
  }
  return attributes
}

/** A number as it stands, or as the digits that JSON needs for 64 bits. */
function numberOf(value: unknown): number | null {
  const number =
    typeof value === 'number' ? value : typeof value === 'string' && value.trim() !== '' ? Number(value) : NaN
  return Number.isFinite(number) ? number : null
}

/** Nanoseconds since 1970 to milliseconds with a fraction; a number can't hold all their digits, so the rest is cut first. */
function milliseconds(value: unknown): number | null {
  const text = typeof value === 'number' && value >= 0 ? value.toFixed(0) : value
  if (typeof text !== 'string' || !/^\d{1,20}$/.test(text)) return null
  return Number(text.slice(0, -6) || '0') + Number(text.slice(-6)) / 1e6
}

const isHex = (value: unknown, digits: number): value is string =>
  typeof value === 'string' && value.length === digits && /^[0-9a-f]+$/i.test(value)
const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value)
const list = (value: unknown, key: string): unknown[] | null =>
  isRecord(value) && Array.isArray(value[key]) ? (value[key] as unknown[]) : null
