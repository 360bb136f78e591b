import { withAddresses, NOTHING } from './css-addresses.js'
import { EditedTags } from './edited-tags.js'
import { HeldPlaces, heldTag, isHeld, isLeftToBrowser, waitsByItself } from './held-tag.js'
import { HtmlScanner, type TagHandler } from './html-scanner.js'
import { PageStart } from './page-start.js'
import { codeText, editableValue, fromUtf8 } from './page-text.js'
import type { RewritePlan, TagAction } from './rewrite-plan.js'
import { srcsetAddresses, withSrcset } from './srcset.js'
import { attributeValue, mayNameHost, readAttributes, withAttributes, type AttributeChange } from './tag-syntax.js'
import { movedLinks } from './moved-links.js'
import {
  addressPlaces,
  LEADING_ON,
  linkKind,
  linksOf,
  WITH_ADDRESSES,
  WITH_CONTENT,
  type AddressPlace,
} from './tag-table.js'

const WANTED = new Set(['html', 'body', 'base', 'style', 'template', 'picture', ...WITH_ADDRESSES])
const WANTED_WITH_LINKS = new Set([...WANTED, ...LEADING_ON])
const WANTED_WITH_POLICY = new Set([...WANTED, 'meta'])
/** Inline code longer than this is not held back for recognising it or for its addresses: it goes by as it is. */
export const LONGEST_CODE = 1 << 19
const IS_POLICY = /^\s*content-security-policy\s*$/i
/** What is put off to the page's end is kept in memory until then; more than this stays where it is. */
const MOST_MOVED = 1 << 19

/** An element of raw text that is held back whole, because what is done with it depends on what it holds. */
interface Held {
  name: string
  start: number
  contentStart: number
  /** What becomes of it once its end is known. */
  settle(element: string, content: string): string
}

/**
 * Applies a plan to a page while it streams. Where no rule touches, the output is the input byte for byte. Bytes go in
 * and out as Latin-1 text, one character a byte, so that pages of any ASCII-compatible encoding go through unharmed; a
 * UTF-16 page must not be given to it. The output is the same whatever pieces the page comes in.
 */
export class HtmlRewriter implements TagHandler {
  private readonly scanner: HtmlScanner
  private readonly pageStart = new PageStart()
  private readonly places = new HeldPlaces()
  private out = ''
  /** Everything before this offset of the scanner's text has been dealt with. */
  private copied = 0
  /** While set, nothing is copied until this element's end tag. */
  private dropping: { name: string; isForeign: boolean } | null = null
  private held: Held | null = null
  private moved = ''
  private firstDone: boolean
  /** Whether some source of the `picture` at hand is to be asked for first. */
  private isPictureFirst = false
  /** What addresses are read against: the page's own, or what its first `base` says. */
  private base: string | undefined

  constructor(private readonly plan: RewritePlan) {
    this.scanner = new HtmlScanner(plan.links ? WANTED_WITH_LINKS : plan.policy ? WANTED_WITH_POLICY : WANTED, this)
    this.firstDone = plan.first === ''
    this.scanner.everything = true
    this.scanner.styled = plan.readsStyles
  }

  /** Takes a piece of the page and gives what is settled of the result. */
  write(chunk: string): string {
    if (this.plan.idle) return chunk
    return this.give(this.scanner.read(chunk))
  }

  /** The rest, once the page has ended. */
  end(): string {
    if (this.plan.idle) return ''
    const settled = this.scanner.finish()
    this.held = null
    return this.give(settled) + this.takeMoved()
  }

  private give(settled: number): string {
    if (this.held && settled - this.held.contentStart > LONGEST_CODE) this.held = null
    const upTo = this.held ? this.held.start : settled
    if (upTo > this.copied) {
      if (!this.dropping) this.pass(this.copied, upTo)
      this.copied = upTo
    }
    this.scanner.forget(this.copied)
    if (this.held) {
      this.held.start -= this.copied
      this.held.contentStart -= this.copied
    }
    this.copied = 0
    const given = this.out
    this.out = ''
    return given
  }

  words(start: number): void {
    if (this.dropping) return
    if (this.pageStart.words(this.scanner.isInTemplate)) this.begun(start)
  }

  longTag(name: string, start: number, isEnd: boolean): void {
    if (this.dropping) {
      // The end tag itself stays: an end without its beginning means nothing.
      if (isEnd && this.dropping.name === name) {
        this.dropping = null
        this.copied = start
      }
    } else if (!this.held) this.hear(name, start, start, isEnd)
  }

  startTag(name: string, start: number, end: number, isForeign: boolean, isSelfClosing: boolean): void {
    if (this.dropping && !this.leaves(start, isForeign)) return
    if (this.held) return
    this.asked = ''
    this.hear(name, start, end, false)
    if (name === 'picture') this.isPictureFirst = false
    if (name === 'base' && !isForeign && !this.scanner.isInTemplate) this.readBase(start, end)
    else if ((name === 'script' || name === 'style') && this.isInline(name, start, end, isForeign)) {
      if (isForeign) this.foreignCode(name, start, end, isSelfClosing)
      else this.code(name, start, end)
    } else this.element(name, start, end, isForeign, isSelfClosing)
  }

  endTag(name: string, start: number, end: number, isForeign: boolean): void {
    if (name === 'picture') this.isPictureFirst = false
    if (this.dropping) {
      if (this.dropping.name === name) {
        this.dropping = null
        this.watch()
        this.copied = end
        return
      }
      if (!this.leaves(start, isForeign)) return
    }
    if (this.held?.name === name) {
      const { start: from, contentStart, settle } = this.held
      const { text } = this.scanner
      this.held = null
      if (start - contentStart > LONGEST_CODE) return
      this.replace(from, end, settle(text.slice(from, end), text.slice(contentStart, start)))
    } else if (!this.held) this.hear(name, start, end, true)
  }

  /** Whether a tag stands outside of the SVG whose script is being dropped, which an end of its own never came for. */
  private leaves(start: number, isForeign: boolean): boolean {
    if (!this.dropping?.isForeign || isForeign) return false
    this.dropping = null
    this.watch()
    this.copied = start
    return true
  }

  private watch(): void {
    const dropsForeign = this.dropping?.isForeign === true
    this.scanner.everything = !this.pageStart.isOver || dropsForeign
    this.scanner.inHead = this.pageStart.isHeadBegun && !dropsForeign
  }

  /** What any tag means for where the page stands. */
  private hear(name: string, start: number, end: number, isEnd: boolean): void {
    const wasOver = this.pageStart.isOver
    const begins = this.pageStart.tag(name, isEnd, this.scanner.isInTemplate)
    if (begins) this.begun(name === 'head' && !isEnd ? end : start)
    if (begins || wasOver !== this.pageStart.isOver) this.watch()
    if (isEnd && (name === 'body' || name === 'html') && this.pageStart.isOver) {
      const atEnd = this.takeMoved()
      if (atEnd !== '') this.replace(start, start, atEnd)
    }
  }

  /** The head begins here, or whatever comes instead of one. */
  private begun(at: number): void {
    if (this.firstDone) return
    this.firstDone = true
    this.flush(at)
    this.out += this.plan.first
  }

  private readBase(start: number, end: number): void {
    const href = this.base === undefined ? this.attribute(start + 5, end, 'href') : undefined
    if (href === undefined) return
    const links = this.linksIn('base', start, end)
    if (links) this.styledTag(start, end, links)
    this.base = this.plan.pageUrl
    this.edited.clear()
    if (!URL.canParse(href, this.plan.pageUrl)) return
    const url = new URL(href, this.plan.pageUrl)
    // The HTML standard, section 4.2.3: such a base counts for nothing.
    if (url.protocol !== 'data:' && url.protocol !== 'javascript:') this.base = url.href
  }

  /** What becomes of the places of a tag that lead to another page; null where nothing does. */
  private linksIn(name: string, start: number, end: number): Record<string, AttributeChange> | null {
    const { links } = this.plan
    if (!links || linksOf(name).length === 0 || !mayNameHost(this.scanner.codes, start, end)) return null
    const tag = this.scanner.text.slice(start, end)
    const changes = movedLinks(name, readAttributes(tag), (address) => links(address, this.base))
    return Object.keys(changes).length === 0 ? null : changes
  }

  /** A content policy that the page itself holds (CSP Level 3, section 3.3). */
  private policyIn(
    name: string,
    start: number,
    end: number,
    isForeign: boolean,
  ): Record<string, AttributeChange> | null {
    const { policy } = this.plan
    if (name !== 'meta' || !policy || isForeign) return null
    const tag = this.scanner.text.slice(start, end)
    if (!/content-security-policy/i.test(tag)) return null
    if (!IS_POLICY.test(editableValue(rawValue(tag, 'http-equiv') ?? '') ?? '')) return null
    const said = editableValue(rawValue(tag, 'content') ?? '')
    const changed = said === null ? null : policy(said)
    return changed === null || changed === said ? null : { content: { value: changed } }
  }

  private isInline(name: string, start: number, end: number, isForeign: boolean): boolean {
    if (name === 'style') return true
    const from = start + 1 + name.length
    for (const { attribute } of addressPlaces(name, isForeign))
      if (this.attribute(from, end, attribute) !== undefined) return false
    return true
  }

  private code(name: string, start: number, end: number): void {
    const { plan } = this
    const id = this.attribute(start + 1 + name.length, end, 'id') ?? null
    const known = plan.touchesInline ? plan.forInline(id, null) : null
    if (known?.do === 'drop') return this.drop(name, start, end, false)
    const readsAddresses = name === 'style' && plan.readsStyles
    if (!this.scanner.isInRaw) return
    if (!known && !plan.readsInline && !readsAddresses) return this.styledTag(start, end)
    const canHold = !this.scanner.isInTemplate
    const canStand = this.canStand
    this.hold(name, start, end, (element, content) => {
      const action = known ?? (plan.readsInline ? plan.forInline(id, codeText(content)) : null)
      if (action?.do === 'drop') return ''
      const tag = element.slice(0, end - start)
      const rest = element.slice(tag.length)
      if (action?.do === 'hold' && canHold && !isLeftToBrowser(action) && !isHeld(tag))
        return this.places.before(name, action, canStand) + heldTag(name, tag, action) + rest
      if (action?.do === 'order' && action.order === 'end' && canHold && this.moves(element)) return ''
      if (!readsAddresses) return element
      return tag + this.withoutAddresses(content) + rest.slice(content.length)
    })
  }

  /** Code in SVG is no raw text: it is known by its id only, and neither held nor moved. */
  private foreignCode(name: string, start: number, end: number, isSelfClosing: boolean): void {
    const id = this.attribute(start + 1 + name.length, end, 'id') ?? null
    if (!this.plan.touchesInline || this.plan.forInline(id, null)?.do !== 'drop') return
    this.drop(name, start, end, true, isSelfClosing)
  }

  private get canStand(): boolean {
    return this.pageStart.isOver && this.scanner.keepsElements && !this.scanner.isInTemplate
  }

  /** An element that may name addresses. */
  private element(name: string, start: number, end: number, isForeign: boolean, isSelfClosing: boolean): void {
    const places = addressPlaces(name, isForeign)
    const links = this.linksIn(name, start, end) ?? this.policyIn(name, start, end, isForeign)
    if (places.length === 0 && !this.scanner.isTagStyled && !links) return
    // Of what a `picture` offers, its `img` says when it is asked for, whatever the browser chooses (HTML standard, section 4.8.1).
    const isFirst = name === 'img' && !isForeign && this.isPictureFirst
    if (!isFirst && this.isRepeated(start, end, isForeign)) return
    const from = start + 1 + name.length
    if (places.length === 0 || (name === 'input' && !/^image$/i.test(this.attribute(from, end, 'type') ?? '')))
      return this.styledTag(start, end, links ?? {}, isForeign)
    const kind = name === 'link' ? linkKind(this.attribute(from, end, 'rel') ?? '') : null
    if (name === 'link' && kind === null) return this.styledTag(start, end, {}, isForeign)
    let hold: (TagAction & { do: 'hold' }) | null = null
    let order: (TagAction & { do: 'order' }) | null = null
    const changes: Record<string, AttributeChange> = { ...links, ...(isFirst && { loading: null }) }
    const added: Record<string, string> = isFirst ? { fetchpriority: 'high' } : {}
    for (const place of places) {
      const value = this.attribute(from, end, place.attribute)
      if (value === undefined) continue
      const action = place.isList ? this.ofList(value) : this.ofAddress(value, kind)
      if (!action) continue
      if (action.do === 'drop' && place.goes === 'element' && !place.isList) {
        // Without any sign a browser asks for the one that sites have by custom.
        if (kind !== 'sign') return this.drop(name, start, end, isForeign, isSelfClosing)
        return this.styledTag(start, end, { [place.attribute]: { value: NOTHING } })
      }
      if (action.do === 'hold') {
        if (!isLeftToBrowser(action) || waitsByItself(name, isForeign)) hold = action
      } else if (action.do === 'order') order = action
      else if (action.do === 'first') {
        if (name === 'source' && place.isList) this.isPictureFirst = true
        // Only a picture's own tag says when it is asked for.
        if (name !== 'img') continue
        added.fetchpriority = 'high'
        changes.loading = null
      } else {
        const change = this.changeOf(place, action, start, end)
        if (change === 'element') return this.drop(name, start, end, isForeign, isSelfClosing)
        if (change !== undefined) changes[place.attribute] = change
        // What an outsider's file was checked against says nothing of its copy.
        if (action.do === 'move') {
          Object.assign(changes, { integrity: null, crossorigin: null })
          if (isChecked(name) && action.integrity !== undefined) added.integrity = action.integrity
        }
      }
    }
    if (Object.keys(changes).length > 0 && !hold && !order)
      return this.styledTag(start, end, changes, isForeign || isFirst, added)
    if (kind === 'hint' && hold && this.attribute(from, end, 'onload') === undefined)
      return this.drop(name, start, end, isForeign, isSelfClosing)
    // What only waits in a template, to be copied by a script, is never woken.
    if (hold && !this.scanner.isInTemplate) return this.holdTag(name, start, end, isForeign, hold)
    if (order && !isForeign) return this.reorder(order.order, name, start, end)
    this.styledTag(start, end, {}, isForeign || hold !== null)
  }

  private ofAddress(address: string, kind: ReturnType<typeof linkKind>): TagAction | null {
    return kind === 'hint' ? this.plan.forHint(address, this.base) : this.plan.forFile(address, this.base)
  }

  /** Of several addresses, the strongest thing that is to be done with any. */
  private ofList(value: string): TagAction | null {
    const actions = srcsetAddresses(value).map((address) => this.plan.forFile(address, this.base))
    return actions.find((action) => action?.do === 'hold') ?? actions.find((action) => action) ?? null
  }

  /** What becomes of one attribute; `element` where without it the element is nothing. */
  private changeOf(
    { attribute, isList }: AddressPlace,
    action: TagAction,
    start: number,
    end: number,
  ): AttributeChange | 'element' | undefined {
    if (!isList) return action.do === 'move' ? { value: action.to } : null
    const raw = rawValue(this.scanner.text.slice(start, end), attribute)
    const value = raw === undefined ? null : editableValue(raw)
    if (value === null) return undefined
    const changed = withSrcset(value, (address) => {
      const one = this.plan.forFile(fromUtf8(address), this.base)
      return one?.do === 'drop' ? undefined : one?.do === 'move' ? one.to : null
    })
    if (changed !== null) return { value: changed }
    const tag = this.scanner.text.slice(start, end)
    // A picture may still have its `src`; a source is nothing without its set.
    return rawValue(tag, 'src') === undefined && rawValue(tag, 'href') === undefined ? 'element' : null
  }

  /**
   * A tag of which only attributes change: addresses, and what its style names.
   * @param isOnce Whether the same tag elsewhere may become something else.
   */
  private styledTag(
    start: number,
    end: number,
    changes: Record<string, AttributeChange> = {},
    isOnce = false,
    added: Record<string, string> = {},
  ): void {
    if (!this.scanner.isTagStyled && Object.keys(changes).length === 0) return
    const tag = this.scanner.text.slice(start, end)
    const all = { ...changes }
    if (this.plan.readsStyles && this.scanner.isTagStyled) {
      const style = rawValue(tag, 'style')
      const value = style === undefined ? null : editableValue(style)
      const changed = value === null ? null : this.withoutAddresses(value)
      if (changed !== value && changed !== null) all.style = { value: changed }
    }
    const edited = Object.keys(all).length > 0 ? withAttributes(tag, all, added) : tag
    if (!isOnce) this.edited.remember(tag, edited)
    if (edited !== tag) this.replace(start, end, edited)
  }

  private readonly edited = new EditedTags()

  private isRepeated(start: number, end: number, isForeign: boolean): boolean {
    const { text } = this.scanner
    const edited = isForeign ? undefined : this.edited.of(text, start, end)
    if (edited === undefined) return false
    if (!text.startsWith(edited, start) || edited.length !== end - start) this.replace(start, end, edited)
    return true
  }

  private withoutAddresses(css: string): string {
    return withAddresses(css, (address) => {
      const action = this.plan.forFile(fromUtf8(address), this.base)
      return action?.do === 'drop' ? NOTHING : action?.do === 'move' ? action.to : null
    })
  }

  /** The attribute of this tag that was asked for last, which is asked for again more often than not. */
  private asked = ''
  private answered: string | undefined

  private attribute(from: number, end: number, name: string): string | undefined {
    if (this.asked === name) return this.answered
    this.asked = name
    return (this.answered = attributeValue(this.scanner.text, this.scanner.codes, from, end, name))
  }

  private drop(name: string, start: number, end: number, isForeign: boolean, isSelfClosing = false): void {
    this.replace(start, end, '')
    if (!WITH_CONTENT.has(name) || (isForeign ? isSelfClosing : !this.scanner.isInRaw)) return
    this.dropping = { name, isForeign }
    this.watch()
  }

  private holdTag(
    name: string,
    start: number,
    end: number,
    isForeign: boolean,
    hold: TagAction & { do: 'hold' },
  ): void {
    this.flush(start)
    const before = this.places.before(name, hold, this.canStand)
    this.replace(start, end, before + heldTag(name, this.scanner.text.slice(start, end), hold, isForeign))
  }

  private reorder(order: 'defer' | 'async' | 'end', name: string, start: number, end: number): void {
    if (order !== 'end') {
      const other = order === 'defer' ? 'async' : 'defer'
      // Only a script with an address has a turn that an attribute can change.
      if (name === 'script')
        this.replace(
          start,
          end,
          withAttributes(this.scanner.text.slice(start, end), { [other]: null }, { [order]: '' }),
        )
      return
    }
    if (this.scanner.isInTemplate) return
    if (WITH_CONTENT.has(name) && !this.scanner.isInRaw) return
    if (WITH_CONTENT.has(name)) return this.hold(name, start, end, (element) => (this.moves(element) ? '' : element))
    if (this.moves(this.scanner.text.slice(start, end))) this.replace(start, end, '')
  }

  private moves(element: string): boolean {
    if (this.moved.length + element.length > MOST_MOVED) return false
    this.moved += element
    return true
  }

  private hold(name: string, start: number, contentStart: number, settle: Held['settle']): void {
    this.flush(start)
    this.held = { name, start, contentStart, settle }
  }

  private flush(upTo: number): void {
    if (upTo > this.copied) this.pass(this.copied, upTo)
    this.copied = Math.max(this.copied, upTo)
  }

  private pass(from: number, to: number): void {
    const text = this.scanner.text.slice(from, to)
    this.places.passed(text)
    this.out += text
  }

  private replace(start: number, end: number, text: string): void {
    this.flush(start)
    this.out += text
    this.copied = end
  }

  private takeMoved(): string {
    const moved = this.moved + this.places.atEnd()
    this.moved = ''
    return moved
  }
}

/** Only of scripts and styles does a browser check what it gets (SRI, section 3.5). */
const isChecked = (name: string) => name === 'script' || name === 'link'

const rawValue = (tag: string, name: string): string | undefined =>
  readAttributes(tag).find((attribute) => attribute.name === name)?.raw
