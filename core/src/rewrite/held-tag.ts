import { CONTENT } from '../attribution/evidence.js'
import type { AskPlace, HoldUntil } from '../rule/rule.js'
import { addressPlaces } from './tag-table.js'
import { toUtf8 } from './page-text.js'
import { escapeValue, readAttributes, withAttributes, type AttributeChange } from './tag-syntax.js'

/** What is held, and for whom. */
export interface Hold {
  until: HoldUntil
  addon: string
  /** Until asked: what stands in its place. */
  ask?: AskPlace
}

export const MARK = 'data-unvelt-'

/** Elements of which a browser can be told to load them once they are near. */
export const waitsByItself = (name: string, isForeign: boolean): boolean =>
  !isForeign && (name === 'img' || name === 'iframe')

/** What a page has of its own is held only where the browser does it: no script is put into the page for a picture. */
export const isLeftToBrowser = ({ addon, until }: Pick<Hold, 'addon' | 'until'>): boolean =>
  addon === CONTENT && until === 'seen'

/** Whoever passed the page on before has held it; held twice, it would never find back what it was. */
export const isHeld = (tag: string): boolean => readAttributes(tag).some(({ name }) => name === `${MARK}until`)

/** A tag that loads and runs nothing until the holder wakes it: its addresses go by names that mean nothing to a browser. */
export function heldTag(name: string, tag: string, { until, addon }: Hold, isForeign = false): string {
  const payer = toUtf8(addon)
  const has = new Set(readAttributes(tag).map((attribute) => attribute.name))
  const changes: Record<string, AttributeChange> = {}
  const rename = (attribute: string) => {
    if (has.has(attribute)) changes[attribute] = { name: MARK + attribute }
  }
  // Browsers wait by themselves for pictures and frames to come near.
  if (until === 'seen' && waitsByItself(name, isForeign)) return withAttributes(tag, {}, { loading: 'lazy' })
  for (const { attribute, canWait } of addressPlaces(name, isForeign)) if (canWait) rename(attribute)
  const added: Record<string, string> = { [`${MARK}until`]: until, [`${MARK}of`]: payer }
  if (name === 'script') {
    rename('type')
    added.type = 'text/unvelt-held'
  } else if (name === 'link' || name === 'style') {
    rename('media')
    added.media = 'not all'
  } else if (until === 'asked' && !isForeign && SHOWS.has(name)) added.hidden = ''
  return withAttributes(tag, changes, added)
}

/** Elements at whose own place something will be seen. */
export const SHOWS: ReadonlySet<string> = new Set(['iframe', 'img', 'embed', 'object', 'video', 'audio'])
/** Elements before which nothing can stand that is seen. */
const HIDES = new Set(['source', 'track', 'frame', 'input'])

/**
 * Where a visitor asks for what is held, or where it is seen that it is needed. Never in the page's head, where it would begin
 * the body and throw out whatever of the head comes after it; what is held there gets its place at the end of the page,
 * unless more of the same payer is held in the body.
 */
export class HeldPlaces {
  private readonly placed = new Set<string>()
  private readonly pending = new Map<string, Hold>()
  /** Whose place stands right before, with nothing but blanks and end tags since. */
  private last: string | null = null

  /** What stands before a held element. */
  before(name: string, hold: Hold, canStand: boolean): string {
    const { until, addon } = hold
    const isShown = SHOWS.has(name)
    const isNeeded = until === 'asked' || (until === 'seen' && name !== 'img' && name !== 'iframe')
    if (!isNeeded) return ''
    const key = `${until} ${addon}`
    if (!canStand || HIDES.has(name)) {
      if (!this.placed.has(key)) this.pending.set(key, hold)
      return ''
    }
    if (this.last === key || (this.placed.has(key) && !isShown)) return ''
    this.placed.add(key)
    this.pending.delete(key)
    this.last = key
    return placeOf(hold, false)
  }

  /** Of text that goes out as it is. */
  passed(text: string): void {
    if (this.last !== null && !/^\s*(?:<\/(?:script|style|iframe)\s*>\s*)*$/i.test(text)) this.last = null
  }

  /** The places of what has none in the body. */
  atEnd(): string {
    const places = [...this.pending.values()].map((hold) => placeOf(hold, true)).join('')
    this.pending.clear()
    return places
  }
}

function placeOf({ until, addon, ask = {} }: Hold, isElsewhere: boolean): string {
  const payer = escapeValue(toUtf8(addon))
  if (until === 'asked')
    return `<button type="button" class="unvelt-ask" ${MARK}ask="${payer}">${pictureOf(ask)}${wordsOf(ask, addon)}</button>`
  // What has no place of its own can't be seen to come near: it comes once the page is idle.
  return `<span ${MARK}place="${payer}"${isElsewhere ? ` ${MARK}elsewhere` : ''}></span>`
}

const wordsOf = ({ words }: AskPlace, addon: string) =>
  escapeValue(toUtf8(words ?? `Load ${addon}`)).replace(/</g, '&lt;')

/** It says nothing that the words do not, and is no wider than its place. */
const pictureOf = ({ picture }: AskPlace) =>
  picture === undefined
    ? ''
    : `<img src="${escapeValue(toUtf8(picture))}" alt="" loading="lazy" style="display:block;max-width:100%">`
