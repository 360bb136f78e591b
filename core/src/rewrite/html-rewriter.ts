import { HtmlScanner, type TagHandler } from './html-scanner.js'
import type { RewritePlan, TagAction } from './rewrite-plan.js'
import { attributeValue, readAttributes, withAttributes, type Attribute } from './tag-syntax.js'

const WANTED = new Set(['html', 'head', 'body', 'base', 'script', 'style', 'link', 'iframe', 'img'])
/** Inline code longer than this is not held back for recognising it. */
const LONGEST_CODE = 1 << 18

/** An element that is held back whole, because what is done with it depends on what it holds. */
interface Held {
  name: string
  start: number
  contentStart: number
  /** What becomes of it once its end is known; null sends it on as it is. */
  settle(element: string, content: string): string
}

/**
 * Applies a plan to a page while it streams. Where no rule touches, the output is the input byte for byte. Bytes go in
 * and out as Latin-1 text, one character a byte, so that pages of any ASCII-compatible encoding go through unharmed; a
 * UTF-16 page must not be given to it.
 */
export class HtmlRewriter implements TagHandler {
  private readonly scanner = new HtmlScanner(WANTED, this)
  private out = ''
  /** Everything before this offset of the scanner's text has been dealt with. */
  private copied = 0
  /** While set, nothing is copied until this element's end tag. */
  private dropping: string | null = null
  private held: Held | null = null
  private moved = ''
  private firstDone: boolean

  constructor(private readonly plan: RewritePlan) {
    this.firstDone = plan.first === ''
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
    if (this.held && settled - this.held.start > LONGEST_CODE) this.held = null
    const upTo = this.held ? this.held.start : settled
    if (upTo > this.copied) {
      if (!this.dropping) this.out += this.scanner.text.slice(this.copied, upTo)
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

  startTag(name: string, start: number, end: number): void {
    if (this.dropping || this.held) return
    if (!this.firstDone && name !== 'html') this.putFirst(name === 'head' ? end : start)
    if (name === 'script' || name === 'style') this.code(name, start, end)
    else if (name === 'link') this.link(start, end)
    else if (name === 'iframe' || name === 'img') this.embedded(name, start, end)
  }

  endTag(name: string, start: number, end: number): void {
    if (this.dropping === name) {
      this.dropping = null
      this.copied = end
    } else if (this.held?.name === name) {
      const { start: from, contentStart, settle } = this.held
      const { text } = this.scanner
      this.held = null
      this.replace(from, end, settle(text.slice(from, end), text.slice(contentStart, start)))
    } else if ((name === 'body' || name === 'html') && this.moved !== '' && !this.dropping && !this.held) {
      this.replace(start, start, this.takeMoved())
    }
  }

  private code(name: string, start: number, end: number): void {
    const from = start + 1 + name.length
    const src = name === 'script' ? this.attribute(from, end, 'src') : undefined
    if (src !== undefined) return this.act(this.plan.forFile(src), name, start, end)
    if (!this.plan.touchesInline) return
    const id = this.attribute(from, end, 'id') ?? null
    const known = this.plan.forInline(id, null)
    if (known) return this.act(known, name, start, end)
    if (!this.plan.readsInline) return
    this.hold(name, start, end, (element, content) => {
      const action = this.plan.forInline(id, fromUtf8(content))
      if (!action) return element
      if (action.do === 'drop') return ''
      if (action.do === 'hold') {
        const tag = element.slice(0, end - start)
        return heldTag(name, tag, readAttributes(tag), action) + element.slice(tag.length)
      }
      if (action.do === 'order' && action.order === 'end') {
        this.moved += element
        return ''
      }
      return element
    })
  }

  private link(start: number, end: number): void {
    const from = start + 5
    const href = this.attribute(from, end, 'href')
    if (href === undefined) return
    const rel = (this.attribute(from, end, 'rel') ?? '').toLowerCase().split(/[\t\n\f\r ]+/)
    if (rel.includes('stylesheet')) return this.act(this.plan.forFile(href), 'link', start, end)
    if (rel.some((word) => HINTS.has(word)) && this.plan.forHint(href)) this.replace(start, end, '')
  }

  private embedded(name: string, start: number, end: number): void {
    const src = this.attribute(start + 1 + name.length, end, 'src')
    if (src !== undefined) this.act(this.plan.forFile(src), name, start, end)
  }

  private attribute(from: number, end: number, name: string): string | undefined {
    return attributeValue(this.scanner.text, this.scanner.codes, from, end, name)
  }

  private act(action: TagAction | null, name: string, start: number, end: number): void {
    if (!action) return
    if (action.do === 'drop') {
      this.replace(start, end, '')
      if (HAS_END.has(name)) this.dropping = name
      return
    }
    const tag = this.scanner.text.slice(start, end)
    const attributes = readAttributes(tag)
    switch (action.do) {
      case 'hold':
        return this.replace(start, end, heldTag(name, tag, attributes, action))
      case 'move':
        return this.replace(
          start,
          end,
          withAttributes(tag, attributes, {
            [name === 'link' ? 'href' : 'src']: action.to,
            integrity: null,
            crossorigin: null,
          }),
        )
      case 'order':
        return this.reorder(action.order, name, start, end, tag, attributes)
    }
  }

  private reorder(
    order: 'defer' | 'async' | 'end',
    name: string,
    start: number,
    end: number,
    tag: string,
    attributes: Attribute[],
  ): void {
    if (order !== 'end') {
      const other = order === 'defer' ? 'async' : 'defer'
      // Only a script with an address has a turn that an attribute can change.
      if (name === 'script' && valueOf(attributes, 'src') !== undefined)
        this.replace(start, end, withAttributes(tag, attributes, { [other]: null, [order]: '' }))
      return
    }
    if (HAS_END.has(name))
      return this.hold(name, start, end, (element) => {
        this.moved += element
        return ''
      })
    this.moved += tag
    this.replace(start, end, '')
  }

  private hold(name: string, start: number, contentStart: number, settle: Held['settle']): void {
    this.flush(start)
    this.held = { name, start, contentStart, settle }
  }

  private putFirst(at: number): void {
    this.firstDone = true
    this.flush(at)
    this.out += this.plan.first
  }

  private flush(upTo: number): void {
    if (upTo > this.copied) this.out += this.scanner.text.slice(this.copied, upTo)
    this.copied = upTo
  }

  private replace(start: number, end: number, text: string): void {
    this.flush(start)
    this.out += text
    this.copied = end
  }

  private takeMoved(): string {
    const { moved } = this
    this.moved = ''
    return moved
  }
}

const HAS_END = new Set(['script', 'style', 'iframe'])
const HINTS = new Set(['preload', 'modulepreload', 'prefetch', 'preconnect', 'dns-prefetch'])

const valueOf = (attributes: Attribute[], name: string) =>
  attributes.find((attribute) => attribute.name === name)?.value

/** A tag that loads and runs nothing until the holder wakes it. */
function heldTag(
  name: string,
  tag: string,
  attributes: Attribute[],
  { until, addon }: TagAction & { do: 'hold' },
): string {
  const marks = { 'data-unvelt-until': until, 'data-unvelt-of': addon }
  const place =
    until === 'asked'
      ? `<button type="button" class="unvelt-ask" data-unvelt-ask="${addon}">Load ${addon}</button>`
      : until === 'seen' && name !== 'img' && name !== 'iframe'
        ? `<span data-unvelt-place="${addon}"></span>`
        : ''
  const value = (key: string) => valueOf(attributes, key)
  if (name === 'script') {
    const src = value('src')
    const type = value('type')
    return (
      place +
      withAttributes(tag, attributes, {
        ...marks,
        type: 'text/unvelt-held',
        ...(type !== undefined && { 'data-unvelt-type': type }),
        ...(src !== undefined && { src: null, 'data-unvelt-src': src }),
      })
    )
  }
  if (name === 'link' || name === 'style') {
    const href = value('href')
    const media = value('media')
    return (
      place +
      withAttributes(tag, attributes, {
        ...marks,
        media: 'not all',
        ...(media !== undefined && { 'data-unvelt-media': media }),
        ...(href !== undefined && { href: null, 'data-unvelt-href': href }),
      })
    )
  }
  if (until === 'seen') return withAttributes(tag, attributes, { loading: 'lazy' })
  const src = value('src')
  return (
    place +
    withAttributes(tag, attributes, {
      ...marks,
      src: null,
      'data-unvelt-src': src ?? '',
      ...(until === 'asked' && { hidden: '' }),
    })
  )
}

/** Latin-1 text as the UTF-8 it stands for, or as it is where it is no UTF-8. */
function fromUtf8(latin1: string): string {
  if (!/[\u0080-\u00ff]/.test(latin1)) return latin1
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(Uint8Array.from(latin1, (c) => c.charCodeAt(0)))
  } catch {
    return latin1
  }
}
