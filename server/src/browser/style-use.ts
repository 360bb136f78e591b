import { createHash } from 'node:crypto'
import type { CDPSession, Page } from 'playwright-core'
import type { Protocol } from 'devtools-protocol'
import {
  faceKey,
  MOST_STYLE_RULES,
  toBytes,
  usedOfStyle,
  type FileUse,
  type InlineText,
  type Range,
  type RequestRecord,
  type StyleRule,
} from '@unvelt/core'
import { parseApart } from '../parse/parse-apart.js'
import { rangesInBytes } from './code-watch.js'

/** What isn't answered within this time counts as used, since not known is not idle. */
const ASK_AT_MOST_MS = 1_500
const LONGEST_STYLE = 4_000_000

interface Sheet {
  request: RequestRecord
  length: number
  rules: StyleRule[]
}

/** What of each stylesheet is applied, and of each piece of inline code that is one; null for the others. */
export interface StyleUse {
  files: FileUse[]
  inline: (Range[] | null)[]
  /** Addresses of all stylesheets that the page has, those among them whose use can't be told too. */
  present: ReadonlySet<string>
}

/**
 * What of each stylesheet is applied. The browser's own rule tracking makes a load three times as long, so the page is
 * asked once it is quiet: which selectors match an element, which conditions hold, which typefaces are drawn.
 */
export async function styleUse(
  session: CDPSession,
  page: Page,
  mainFrameId: string,
  requests: readonly RequestRecord[],
  codes: readonly InlineText[],
): Promise<StyleUse> {
  const { sheets, present } = await readSheets(session, mainFrameId, requests)
  const written = await Promise.all(codes.map(({ type, text }) => (type === 'style' ? rulesOf(text) : null)))
  if (sheets.length === 0 && written.every((own) => own === null))
    return { files: [], inline: codes.map(() => null), present }
  const rules = [...sheets.map((sheet) => sheet.rules), ...written.map((own) => own ?? [])].flat()
  const all = (of: (rule: StyleRule) => string[]) => [...new Set(rules.flatMap(of))]
  const asked = {
    selectors: all((rule) => rule.selectors),
    media: all((rule) => rule.media),
    supports: all((rule) => rule.supports),
    atMostMs: ASK_AT_MOST_MS,
  }
  const answers = await page.evaluate(askPage, asked)
  const yes = (questions: string[], given: string) => {
    const positive = new Set(questions.filter((_, n) => given[n] !== '0'))
    return (question: string) => positive.has(question)
  }
  const state = {
    matches: yes(asked.selectors, answers.selectors),
    media: yes(asked.media, answers.media),
    supports: yes(asked.supports, answers.supports),
    drawn: new Set(answers.drawn.map(({ family, weight, style }) => faceKey(family, weight, style))),
  }
  const uses: FileUse[] = []
  for (const { request, length, rules: own } of sheets) {
    const used = await rangesInBytes(session, request, usedOfStyle(own, state), length)
    if (used) uses.push({ requestId: request.id, used })
  }
  const inline = written.map((own, n) => own && toBytes(usedOfStyle(own, state), codes[n]!.text))
  return { files: uses, inline, present }
}

async function readSheets(
  session: CDPSession,
  mainFrameId: string,
  requests: readonly RequestRecord[],
): Promise<{ sheets: Sheet[]; present: Set<string> }> {
  const headers: Protocol.CSS.CSSStyleSheetHeader[] = []
  const take = ({ header }: Protocol.CSS.StyleSheetAddedEvent) => void headers.push(header)
  session.on('CSS.styleSheetAdded', take)
  // Enabling tells of every sheet that is there before it answers.
  await session.send('DOM.enable')
  await session.send('CSS.enable')
  session.off('CSS.styleSheetAdded', take)
  const present = new Set(headers.map(({ sourceURL }) => sourceURL))
  const found = requests.flatMap((request) => {
    if (request.type !== 'style') return []
    const at = headers.findIndex(
      (h) => h.sourceURL === request.url && h.frameId === mainFrameId && !h.isInline && h.length < LONGEST_STYLE,
    )
    // Of several requests for one address the first one pays for what was never applied.
    return at < 0 ? [] : [{ request, styleSheetId: headers.splice(at, 1)[0]!.styleSheetId }]
  })
  const sheets = await Promise.all(
    found.map(async ({ request, styleSheetId }): Promise<Sheet[]> => {
      try {
        const { text } = await session.send('CSS.getStyleSheetText', { styleSheetId })
        const rules = await rulesOf(text)
        return rules ? [{ request, length: text.length, rules }] : []
      } catch {
        // It went while it was asked for: then nothing is known of it.
        return []
      }
    }),
  )
  await session.send('CSS.disable')
  return { sheets: sheets.flat(), present }
}

/** The pages of a site share their stylesheets, and taking one apart costs more than all the rest. */
const known = new Map<string, { rules: StyleRule[] | null; size: number }>()
const MOST_KNOWN = 400
/** Characters of all stylesheets whose rules are remembered. */
const MOST_KNOWN_TEXT = 30_000_000
let knownText = 0

/** The rules of a stylesheet; null where they can't be told within reason, since not known is not idle. */
async function rulesOf(text: string): Promise<StyleRule[] | null> {
  const key = createHash('sha1').update(text).digest('base64')
  const found = known.get(key)
  const parsed = found ? found.rules : await parseApart('style', text)
  const rules = parsed && parsed.length < MOST_STYLE_RULES ? parsed : null
  forget(key)
  known.set(key, { rules, size: text.length })
  knownText += text.length
  while (known.size > MOST_KNOWN || knownText > MOST_KNOWN_TEXT) forget(known.keys().next().value!)
  return rules
}

function forget(key: string): void {
  knownText -= known.get(key)?.size ?? 0
  known.delete(key)
}

interface Asked {
  selectors: string[]
  media: string[]
  supports: string[]
  atMostMs: number
}

/** Runs in the page. Answers are one character a question: 1 yes, 0 no, ? not asked in time. */
function askPage({ selectors, media, supports, atMostMs }: Asked) {
  const until = performance.now() + atMostMs
  const answer = (ask: () => boolean): string => {
    if (performance.now() > until) return '?'
    try {
      return ask() ? '1' : '0'
    } catch {
      return '0'
    }
  }
  return {
    selectors: selectors.map((s) => answer(() => document.querySelector(s) !== null)).join(''),
    media: media.map((query) => answer(() => matchMedia(query).matches)).join(''),
    supports: supports.map((condition) => answer(() => CSS.supports(condition))).join(''),
    drawn: [...document.fonts]
      .filter((face) => face.status === 'loaded')
      .map(({ family, weight, style }) => ({ family, weight, style })),
  }
}
