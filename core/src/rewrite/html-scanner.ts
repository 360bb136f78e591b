import { CharacterCodes } from './character-codes.js'
import { ForeignContent } from './foreign-content.js'
import { knownNames, unknownName, type KnownName, type KnownNames } from './known-names.js'
import { TagEnd } from './tag-end.js'
import { isLetter, isNamed, isSpace, type Codes } from './tag-syntax.js'

/** A tag that is longer than this is not held back for reading: it goes by, and is only known by its name. */
const LONGEST_TAG = 1 << 20
/** No name that means anything is longer. */
const LONGEST_NAME = 64

const enum Mode {
  Text,
  Comment,
  /** Up to the next `>`: doctypes and whatever browsers take for a comment. */
  Bogus,
  Cdata,
  Raw,
  Plaintext,
}

/** What a scanner tells of. Offsets are into its `text`. */
export interface TagHandler {
  /** Only for tags that were asked for; `isForeign` in SVG and MathML. */
  startTag(name: string, start: number, end: number, isForeign: boolean, isSelfClosing: boolean): void
  endTag(name: string, start: number, end: number, isForeign: boolean): void
  /** A tag, asked for or not, that is too long to be looked at. */
  longTag?(name: string, start: number, isEnd: boolean): void
  /** What stands in a comment. */
  comment?(start: number, end: number): void
  /** While everything is asked for: the first character that is no white space. */
  words?(start: number): void
}

/**
 * Finds the tags of an HTML stream by the states of the HTML standard (section 13.2.5) and looks closely only at those
 * that were asked for. Works on any text; bytes of whatever ASCII-compatible encoding can be given as Latin-1, since all
 * syntax is ASCII. Whatever pieces the stream comes in, each character is looked at a bounded number of times.
 */
export class HtmlScanner {
  /** What has not been forgotten yet. */
  text = ''
  /** While set, every tag is told, and words between tags. */
  everything = false
  /** While everything is told: those that leave a head a head are not, unless they were asked for. */
  inHead = false
  /** Tags with an attribute `style` or `background` are told too, whatever their names. */
  styled = false
  private readonly memory = new CharacterCodes()
  private at = 0
  private mode: Mode = Mode.Text
  private rawName = ''
  /** Inside a script: 0 plain, 1 behind `<!--`, 2 behind a `<script` there. */
  private scriptEscape = 0
  private readonly foreign = new ForeignContent()
  private readonly tag = new TagEnd()
  /** Where the tag begins that the text ended in; -1 while it ended in none. */
  private tagOpen = -1
  /** That tag has been let go by, being long: its beginning lies before the text. */
  private isPassing = false
  private isInSelect = false
  /** Of each template around: whether it stands in a select. */
  private readonly templates: boolean[] = []

  private readonly names: KnownNames

  /** `wanted` are names in small letters. */
  constructor(
    wanted: ReadonlySet<string>,
    private readonly handler: TagHandler,
  ) {
    this.names = knownNames(wanted)
  }

  /** The text as numbers. */
  get codes(): Codes {
    return this.memory.codes
  }

  /** Whether elements of the page's own can stand here: a select keeps none. */
  get keepsElements(): boolean {
    return !this.isInSelect && !this.foreign.inside
  }

  /** Whether what follows is text up to the end tag of the element that was told last. */
  get isInRaw(): boolean {
    return this.mode === Mode.Raw
  }

  /** Whether the tag that was told last has an attribute that any element may have an address in. */
  get isTagStyled(): boolean {
    return this.tag.isStyled
  }

  /** Whether a template is open, whose content only waits for being copied. */
  get isInTemplate(): boolean {
    return this.templates.length > 0
  }

  /** Reads on. Returns up to where the text is settled: from there on it may still be part of a tag. */
  read(chunk: string): number {
    this.text = this.text === '' ? chunk : this.text + chunk
    this.memory.add(chunk)
    while (this.step());
    return this.at
  }

  /** Forgets the text before an offset. */
  forget(before: number): void {
    if (before === 0) return
    this.text = this.text.slice(before)
    this.memory.forget(before)
    this.at -= before
    this.commentStart -= before
    if (this.tagOpen >= 0 || this.isPassing) {
      this.tagOpen -= before
      this.tag.shift(before)
    }
  }

  private step(): boolean {
    switch (this.mode) {
      case Mode.Text:
        return this.readText()
      case Mode.Comment:
        return this.readToGreater(isCommentEnd, 3)
      case Mode.Bogus:
        return this.readToGreater(isAnyEnd, 0)
      case Mode.Cdata:
        return this.readToGreater(isCdataEnd, 2)
      case Mode.Raw:
        return this.rawName === 'script' ? this.readScript() : this.readRaw()
      case Mode.Plaintext:
        this.at = this.memory.size
        return false
    }
  }

  /** The one loop that runs for every tag of a page, so it reads no name that can't matter. */
  private readText(): boolean {
    const { tag, memory, names, styled } = this
    const { codes, size } = memory
    let skims = !this.everything && !this.foreign.any
    let at = this.at
    for (;;) {
      if (this.tagOpen >= 0 || this.isPassing) {
        if (!this.readOpenTag()) return false
      } else {
        let open = at
        while (open < size && codes[open] !== OPEN) open++
        if (open > at && !skims && this.everything) this.readWords(at, open)
        if (open >= size) {
          this.at = size
          return false
        }
        // What lies beyond the text is 0, which is no letter.
        const c = codes[open + 1]!
        let nameStart = open + 1
        if (!isLetter(c)) {
          nameStart = open + 2
          if (c !== SLASH || open + 2 >= size || !isLetter(codes[nameStart]!)) {
            this.at = open
            if (!this.readOther(open)) return false
            if (this.mode !== Mode.Text) return true
            if (this.everything && this.at === open + 1) this.handler.words?.(open)
            at = this.at
            continue
          }
        }
        const end = tag.readWhole(codes, nameStart, Math.min(size, open + LONGEST_TAG))
        if (end < 0) {
          tag.begin(nameStart)
          this.tagOpen = open
          continue
        }
        at = end
        // Most tags are of no interest, and go by without leaving a trace.
        if (skims && !names.mayBe(codes, nameStart) && !(styled && tag.isStyled)) continue
        this.at = end
        this.tell(open, nameStart, end)
      }
      // Raw text mostly ends in sight.
      if (this.mode !== Mode.Text && (this.mode !== Mode.Raw || !this.step())) return true
      at = this.at
      skims = !this.everything && !this.foreign.any
    }
  }

  /** Goes on with a tag that the text ended in, or that is too long to be kept. False while it goes on. */
  private readOpenTag(): boolean {
    const { codes, size } = this.memory
    const open = this.tagOpen
    const end = this.tag.read(codes, size)
    const isLong = this.isPassing || (end < 0 ? size : end) - open > LONGEST_TAG
    if (isLong && !this.isPassing) this.passBy(open)
    if (end < 0) {
      this.at = isLong ? size : open
      return false
    }
    this.at = end
    this.tagOpen = -1
    if (isLong) {
      this.markRead = BYTE_ORDER_MARK.length
      this.known(this.passing, this.passingEnd, 0, 0)
      this.isPassing = false
    } else this.tell(open, codes[open + 1] === SLASH ? open + 2 : open + 1, end)
    return true
  }

  /** A whole tag: what it does to what follows, and whether anybody wants to hear of it. */
  private tell(open: number, nameStart: number, end: number): void {
    const { tag, names, foreign } = this
    const { codes } = this.memory
    this.markRead = BYTE_ORDER_MARK.length
    const isEnd = nameStart === open + 2
    const isStyled = this.styled && tag.isStyled && !isEnd
    const isAny = this.everything || isStyled || foreign.any
    if (!isAny && !names.mayBe(codes, nameStart)) return
    const known = names.find(codes, nameStart, tag.nameStop)
    if (!known && !isAny) return
    const entry = known ?? unknownName(this.text.slice(nameStart, tag.nameStop).toLowerCase())
    if (!isStyled && !entry.isWanted && (!this.everything || (this.inHead && entry.isOfHead)))
      return this.known(entry, isEnd, open, end)
    const wasForeign = foreign.inside
    this.known(entry, isEnd, open, end)
    // What breaks out of SVG is not in it any more.
    const isForeign = wasForeign && (isEnd || foreign.inside)
    if (isEnd) this.handler.endTag(entry.name, open, end, isForeign)
    else this.handler.startTag(entry.name, open, end, isForeign, tag.isSelfClosing)
  }

  private passing: KnownName = unknownName('x')
  private passingEnd = false

  /** A long tag is told by its name, before any of it is let go. */
  private passBy(open: number): void {
    const { codes } = this
    this.isPassing = true
    this.passingEnd = codes[open + 1] === SLASH
    const nameStart = this.passingEnd ? open + 2 : open + 1
    const nameStop = this.tag.nameStop
    const isNameless = nameStop < 0 || nameStop - nameStart > LONGEST_NAME
    const name = isNameless ? 'x' : this.text.slice(nameStart, nameStop).toLowerCase()
    this.passing = (isNameless ? null : this.names.find(codes, nameStart, nameStop)) ?? unknownName(name)
    this.handler.longTag?.(name, open, this.passingEnd)
  }

  private readWords(from: number, to: number): void {
    const { codes } = this
    for (let i = from; i < to; i++) {
      const c = codes[i]!
      if (this.markRead < BYTE_ORDER_MARK.length && c === BYTE_ORDER_MARK[this.markRead]) this.markRead++
      else {
        // It is one at the very beginning only.
        this.markRead = BYTE_ORDER_MARK.length
        if (isSpace(c)) continue
        this.handler.words?.(i)
        return
      }
    }
  }

  private markRead = 0

  /** Whatever begins with `<` and is no tag. False when more must come before it can be told. */
  private readOther(open: number): boolean {
    const { codes, size } = this.memory
    if (open + 1 >= size) return false
    const c = codes[open + 1]
    if (c === SLASH) {
      if (open + 2 >= size) return false
      if (codes[open + 2] === GREATER) this.at = open + 3
      else this.enter(Mode.Bogus, open + 2)
    } else if (c === BANG) return this.readDeclaration(open)
    else if (c === QUESTION) this.enter(Mode.Bogus, open + 2)
    else this.at = open + 1
    return true
  }

  /** What a tag does to what follows it. */
  private known(entry: KnownName, isEnd: boolean, open: number, end: number): void {
    const { foreign } = this
    const { name } = entry
    if (isEnd) {
      if (foreign.any) foreign.endTag(name, entry.role)
      if (name === 'select') this.isInSelect = false
      else if (entry.isTemplate && this.templates.length > 0) this.isInSelect = this.templates.pop()!
      return
    }
    if (foreign.any || entry.isForeignRoot) {
      const wasForeign = foreign.inside
      foreign.startTag(entry.role, this.text, open, end, this.tag.isSelfClosing)
      // Elements that break out of SVG have never been raw text.
      if (wasForeign) return
    }
    const isIgnored = this.isInSelect && !entry.countsInSelect
    if (entry.endsSelect) this.isInSelect = name === 'select' && !this.isInSelect
    else if (entry.isTemplate) {
      // Deeper ones change nothing any more that is worth keeping.
      if (this.templates.length < MOST_TEMPLATES) this.templates.push(this.isInSelect)
      this.isInSelect = false
    }
    if (isIgnored) return
    if (entry.isRaw) {
      this.mode = Mode.Raw
      this.rawName = name
      this.scriptEscape = 0
    } else if (name === 'plaintext') this.mode = Mode.Plaintext
  }

  private readDeclaration(open: number): boolean {
    const { text } = this
    const { size } = this.memory
    // Seven characters tell CDATA from the rest, and two more whether a comment ends where it begins.
    if (size < open + 9 && !this.ending) return false
    if (text.startsWith('--', open + 2)) {
      if (text[open + 4] === '>') this.at = open + 5
      else if (text.startsWith('->', open + 4)) this.at = open + 6
      else {
        this.commentStart = open + 4
        this.enter(Mode.Comment, open + 4)
      }
    } else if (this.foreign.inside && text.startsWith('[CDATA[', open + 2)) this.enter(Mode.Cdata, open + 9)
    else this.enter(Mode.Bogus, open + 2)
    return true
  }

  private ending = false
  private commentStart = 0

  /** Reads what was held back because more might have come. */
  finish(): number {
    this.ending = true
    while (this.step());
    return this.memory.size
  }

  private enter(mode: Mode, at: number): void {
    this.mode = mode
    this.at = at
  }

  /** Goes behind the end of a comment or its like; keeps back as much as could be the end's beginning. */
  private readToGreater(isEnd: (codes: Codes, at: number, from: number) => boolean, keep: number): boolean {
    const { codes, size } = this.memory
    for (let i = this.at; i < size; i++)
      if (codes[i] === GREATER && isEnd(codes, i, this.at)) {
        if (this.mode === Mode.Comment) this.handler.comment?.(this.commentStart, codes[i - 1] === BANG ? i - 3 : i - 2)
        return this.leave(i + 1)
      }
    return this.keepBack(keep)
  }

  private readRaw(): boolean {
    const { codes, size } = this.memory
    const { rawName } = this
    for (let i = this.at; i < size; i++)
      if (codes[i] === OPEN && codes[i + 1] === SLASH && this.isTag(i + 2, rawName)) return this.leave(i)
    return this.keepBack(LONGEST_RAW_END)
  }

  /** The script data states: `</script` ends a script unless it stands behind `<!--` and another `<script`. */
  private readScript(): boolean {
    const { codes, size } = this.memory
    // What has said all it can say is not read again.
    let done = this.at
    for (let i = done; i < size; i++) {
      const c = codes[i]
      if (c === GREATER) {
        if (this.scriptEscape === 0 || i - 2 < done || codes[i - 1] !== DASH || codes[i - 2] !== DASH) continue
        this.scriptEscape = 0
        done = i + 1
      } else if (c === OPEN) {
        if (codes[i + 1] === SLASH && this.isTag(i + 2, 'script')) {
          if (this.scriptEscape < 2) return this.leave(i)
          this.scriptEscape = 1
          done = i + 8
        } else if (this.scriptEscape === 0) {
          if (codes[i + 1] !== BANG || codes[i + 2] !== DASH || codes[i + 3] !== DASH) continue
          this.scriptEscape = 1
          // These dashes may be those of `-->` as well.
          done = i + 2
        } else if (this.scriptEscape === 1 && this.isTag(i + 1, 'script')) {
          this.scriptEscape = 2
          done = i + 7
        }
      }
    }
    this.at = done
    return this.keepBack(LONGEST_RAW_END)
  }

  /** Whether a tag's name stands at a place, and ends there. */
  private isTag(at: number, name: string): boolean {
    const { codes } = this
    if (!isNamed(codes, at, name)) return false
    const c = codes[at + name.length]!
    return c === GREATER || c === SLASH || isSpace(c)
  }

  private leave(at: number): boolean {
    this.enter(Mode.Text, at)
    return true
  }

  /** Waits for more, with so many characters kept in sight. */
  private keepBack(characters: number): boolean {
    this.at = Math.max(this.at, this.memory.size - characters)
    return false
  }
}

const BYTE_ORDER_MARK = [0xef, 0xbb, 0xbf]
const OPEN = 60
const SLASH = 47
const BANG = 33
const QUESTION = 63
const GREATER = 62
const DASH = 45
const BRACKET = 93
/** `</textarea` and one more character. */
const LONGEST_RAW_END = 11
const MOST_TEMPLATES = 10_000

const isAnyEnd = () => true
const isCdataEnd = (codes: Codes, at: number, from: number) =>
  at - 2 >= from && codes[at - 1] === BRACKET && codes[at - 2] === BRACKET
/** `-->` or `--!>`. */
function isCommentEnd(codes: Codes, at: number, from: number): boolean {
  const dashes = codes[at - 1] === BANG ? at - 3 : at - 2
  return dashes >= from && codes[dashes] === DASH && codes[dashes + 1] === DASH
}
