import { isSpace, type Codes } from './tag-syntax.js'

const DOUBLE_QUOTE = 34
const SINGLE_QUOTE = 39
const SLASH = 47
const EQUALS = 61
const GREATER = 62

const enum Phase {
  Name,
  BeforeAttribute,
  Attribute,
  AfterAttribute,
  BeforeValue,
  DoubleQuoted,
  SingleQuoted,
  Plain,
}

/**
 * Finds a tag's end by the attribute states of the HTML standard (section 13.2.5), and goes on where it stopped when the
 * text ended first: whatever pieces a tag comes in, each of its characters is looked at once.
 */
export class TagEnd {
  /** Where reading stands. */
  at = 0
  /** Where the tag's name ends; -1 while it may go on. */
  nameStop = -1
  /** Whether the tag has an attribute `style` or `background`, which any element may have. */
  isStyled = false
  /** Whether a slash stands right before the end, outside of any value. */
  isSelfClosing = false
  private phase = Phase.Name
  private attributeStart = 0

  /** A tag whose name begins at `nameStart`. */
  begin(nameStart: number): void {
    this.at = nameStart
    this.nameStop = -1
    this.isStyled = false
    this.isSelfClosing = false
    this.phase = Phase.Name
  }

  /** The text before an offset has gone. */
  shift(by: number): void {
    this.at -= by
    this.attributeStart -= by
    if (this.nameStop >= 0) this.nameStop -= by
  }

  /**
   * The same as `begin` and `read` for a tag that ends within the text, and faster: of those that don't it knows nothing
   * afterwards. Nearly all tags are whole.
   */
  readWhole(codes: Codes, nameStart: number, size: number): number {
    let i = nameStart
    for (; i < size; i++) {
      const c = codes[i]!
      if (c > GREATER) continue
      if (c === GREATER || c === SLASH || isSpace(c)) break
    }
    this.nameStop = i
    this.isStyled = false
    return this.readAttributes(codes, i, size)
  }

  /** Behind the tag's `>`. Where the text ends first -1, and `at` stands where the attribute begins that it ended in. */
  private readAttributes(codes: Codes, from: number, size: number): number {
    let i = from
    // Where a slash stood last that belongs to no value.
    let slash = -1
    let start = -1
    while (i < size) {
      let c = codes[i]!
      if (c === GREATER) {
        this.isSelfClosing = slash === i - 1
        return i + 1
      }
      if (c === SLASH || isSpace(c)) {
        if (c === SLASH) slash = i
        start = -1
        i++
        continue
      }
      start = i++
      for (; i < size; i++) {
        c = codes[i]!
        if (c > GREATER) continue
        if (c === GREATER || c === EQUALS || c === SLASH || isSpace(c)) break
      }
      const length = i - start
      if ((length === 5 || length === 10) && isStyling(codes, start, length)) this.isStyled = true
      while (i < size && isSpace(codes[i]!)) i++
      if (i >= size) break
      if (codes[i] !== EQUALS) continue
      i++
      while (i < size && isSpace(codes[i]!)) i++
      if (i >= size) break
      c = codes[i]!
      if (c === DOUBLE_QUOTE || c === SINGLE_QUOTE) {
        do i++
        while (i < size && codes[i] !== c)
        i++
      } else
        for (; i < size; i++) {
          c = codes[i]!
          if (c > GREATER) continue
          if (c === GREATER || isSpace(c)) break
        }
    }
    this.isSelfClosing = slash === size - 1
    this.at = start < 0 ? size : start
    return -1
  }

  /** Behind the tag's `>`; -1 when the text ends first. */
  read(codes: Codes, size: number): number {
    let i = this.at
    let { phase, attributeStart } = this
    for (;;) {
      if (phase === Phase.Name) {
        for (; i < size; i++) {
          const c = codes[i]!
          // Letters are beyond all that can end a name.
          if (c > GREATER) continue
          if (c === GREATER || c === SLASH || isSpace(c)) break
        }
        if (i >= size) break
        this.nameStop = i
        phase = Phase.BeforeAttribute
      }
      if (phase === Phase.BeforeAttribute) {
        if (i >= size) break
        // A slash at the end of the text before counts only if nothing but the end follows.
        const wasSlash = this.isSelfClosing && codes[i] === GREATER
        const end = this.readAttributes(codes, i, size)
        if (end >= 0) {
          this.isSelfClosing ||= wasSlash
          this.at = end
          return end
        }
        i = this.at
        if (i >= size) break
        // From here on only the attribute is left that the text ends in: it is followed by its phases.
        attributeStart = i
        // The first character of an attribute's name may be anything, even an equals sign.
        i++
        phase = Phase.Attribute
      }
      if (phase === Phase.Attribute) {
        for (; i < size; i++) {
          const c = codes[i]!
          if (c > GREATER) continue
          if (c === GREATER || c === EQUALS || c === SLASH || isSpace(c)) break
        }
        if (i >= size) break
        const length = i - attributeStart
        if (length === 5 || length === 10) this.isStyled ||= isStyling(codes, attributeStart, length)
        phase = Phase.AfterAttribute
      }
      if (phase === Phase.AfterAttribute) {
        while (i < size && isSpace(codes[i]!)) i++
        if (i >= size) break
        if (codes[i] !== EQUALS) {
          phase = Phase.BeforeAttribute
          continue
        }
        i++
        phase = Phase.BeforeValue
      }
      if (phase === Phase.BeforeValue) {
        while (i < size && isSpace(codes[i]!)) i++
        if (i >= size) break
        const c = codes[i]!
        if (c === DOUBLE_QUOTE || c === SINGLE_QUOTE) i++
        phase = c === DOUBLE_QUOTE ? Phase.DoubleQuoted : c === SINGLE_QUOTE ? Phase.SingleQuoted : Phase.Plain
      }
      if (phase === Phase.Plain) {
        for (; i < size; i++) {
          const c = codes[i]!
          if (c > GREATER) continue
          if (c === GREATER || isSpace(c)) break
        }
        if (i >= size) break
      } else {
        const quote = phase === Phase.DoubleQuoted ? DOUBLE_QUOTE : SINGLE_QUOTE
        while (i < size && codes[i] !== quote) i++
        if (i >= size) break
        i++
      }
      phase = Phase.BeforeAttribute
    }
    this.at = i
    this.phase = phase
    this.attributeStart = attributeStart
    return -1
  }
}

const STYLE = 'style'
const BACKGROUND = 'background'
function isStyling(codes: Codes, start: number, length: number): boolean {
  const name = length === 5 ? STYLE : BACKGROUND
  for (let i = 0; i < length; i++) if ((codes[start + i]! | 32) !== name.charCodeAt(i)) return false
  return true
}
