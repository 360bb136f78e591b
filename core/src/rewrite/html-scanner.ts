import { CharacterCodes } from './character-codes.js'
import { ForeignContent } from './foreign-content.js'
import { isLetter, isNamed, nameEnd, tagEnd, type Codes } from './tag-syntax.js'

/** Elements whose content is text up to their own end tag, as browsers with scripting read them. */
const RAW_TEXT = new Set(['script', 'style', 'textarea', 'title', 'xmp', 'iframe', 'noembed', 'noframes', 'noscript'])
/** A tag that is longer than this is not held back for reading: it goes by as text. */
const LONGEST_TAG = 1 << 20

/** Where the table of beginnings keeps two letters, large or small. */
const pair = (codes: Codes, at: number) => ((codes[at]! & 31) << 5) | (codes[at + 1]! & 31)

const enum Mode {
  Text,
  Comment,
  /** Up to the next `>`: doctypes and whatever browsers take for a comment. */
  Bogus,
  Cdata,
  Raw,
  Plaintext,
}

export interface TagHandler {
  /** Only for tags that were asked for. Offsets are into `scanner.text`. */
  startTag(name: string, start: number, end: number): void
  endTag(name: string, start: number, end: number): void
}

/**
 * Finds the tags of an HTML stream by the states of the HTML standard (section 13.2.5) and looks closely only at those
 * that were asked for. Works on any text; bytes of whatever ASCII-compatible encoding can be given as Latin-1, since all
 * syntax is ASCII.
 */
export class HtmlScanner {
  /** What has not been forgotten yet, and where reading stands in it. */
  text = ''
  /** The same as numbers. */
  codes: Codes = new Uint8Array(1)
  private readonly memory = new CharacterCodes()
  private at = 0
  private mode: Mode = Mode.Text
  private rawName = ''
  /** Inside a script: 0 plain, 1 behind `<!--`, 2 behind a `<script` there. */
  private scriptEscape = 0
  private readonly foreign = new ForeignContent()

  /** 1 where a name that begins with those two letters may matter. */
  private readonly names: string[]
  private readonly beginnings = new Uint8Array(1 << 10)

  /** `wanted` are names in small letters. */
  constructor(
    private readonly wanted: ReadonlySet<string>,
    private readonly handler: TagHandler,
  ) {
    this.names = [...new Set([...wanted, ...RAW_TEXT, 'svg', 'math', 'plaintext'])]
    for (const name of this.names)
      for (let second = 0; second < 32; second++)
        // A name of one letter may be followed by anything.
        if (name.length === 1 || second === (name.charCodeAt(1) & 31))
          this.beginnings[((name.charCodeAt(0) & 31) << 5) | second] = 1
  }

  /** Reads on. Returns up to where the text is settled: from there on it may still be part of a tag. */
  read(chunk: string): number {
    this.text = this.text === '' ? chunk : this.text + chunk
    this.codes = this.memory.of(this.text)
    while (this.step());
    return this.at
  }

  /** Forgets the text before an offset. */
  forget(before: number): void {
    this.text = this.text.slice(before)
    this.at -= before
  }

  private step(): boolean {
    switch (this.mode) {
      case Mode.Text:
        return this.readText()
      case Mode.Comment:
        return this.readTo(COMMENT_END, 3)
      case Mode.Bogus:
        return this.readTo(BOGUS_END, 0)
      case Mode.Cdata:
        return this.readTo(CDATA_END, 2)
      case Mode.Raw:
        return this.rawName === 'script' ? this.readScript() : this.readRaw()
      case Mode.Plaintext:
        this.at = this.text.length
        return false
    }
  }

  /** The one loop that runs for every tag of a page, so it reads no name that can't matter. */
  private readText(): boolean {
    const { codes } = this
    const { length: size } = this.text
    let at = this.at
    for (;;) {
      let open = at
      while (open < size && codes[open] !== OPEN) open++
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
          at = this.at
          continue
        }
      }
      const nameStop = nameEnd(codes, nameStart, size)
      const end = nameStop < 0 ? -1 : tagEnd(codes, nameStop, size)
      if (end < 0) {
        this.at = open
        if (size - open < LONGEST_TAG) return false
        at = open + 1
        continue
      }
      at = end
      // Two letters tell most tags from those that matter.
      if (!this.foreign.any && this.beginnings[pair(codes, nameStart)] !== 1) continue
      this.at = end
      const name = this.nameAt(nameStart, nameStop)
      if (name === null) continue
      if (nameStart === open + 1) this.startTag(name, open, end)
      else this.endTag(name, open, end)
      if (this.mode !== Mode.Text) return true
    }
  }

  /** The tag's name in small letters, or null where it does not matter. Inside SVG and MathML every name does. */
  private nameAt(start: number, stop: number): string | null {
    const { codes } = this
    for (const name of this.names) if (name.length === stop - start && isNamed(codes, start, name)) return name
    return this.foreign.any ? this.text.slice(start, stop).toLowerCase() : null
  }

  /** Whatever begins with `<` and is no tag. False when more must come before it can be told. */
  private readOther(open: number): boolean {
    const c = this.text.charCodeAt(open + 1)
    if (c !== c) return false
    if (c === SLASH) {
      const next = this.text.charCodeAt(open + 2)
      if (next !== next) return false
      if (next === GREATER) this.at = open + 3
      else this.enter(Mode.Bogus, open + 2)
    } else if (c === BANG) return this.readDeclaration(open)
    else if (c === QUESTION) this.enter(Mode.Bogus, open + 2)
    else this.at = open + 1
    return true
  }

  private startTag(name: string, open: number, end: number): void {
    const wasForeign = this.foreign.inside
    if (this.foreign.any || name === 'svg' || name === 'math') this.foreign.startTag(name, this.text.slice(open, end))
    if (!wasForeign && RAW_TEXT.has(name)) {
      this.mode = Mode.Raw
      this.rawName = name
      this.scriptEscape = 0
    } else if (!wasForeign && name === 'plaintext') this.mode = Mode.Plaintext
    if (this.wanted.has(name)) this.handler.startTag(name, open, end)
  }

  private endTag(name: string, open: number, end: number): void {
    if (this.foreign.any) this.foreign.endTag(name)
    if (this.wanted.has(name)) this.handler.endTag(name, open, end)
  }

  private readDeclaration(open: number): boolean {
    const { text } = this
    // Seven characters tell CDATA from the rest, and two more whether a comment ends where it begins.
    if (text.length < open + 9 && !this.ending) return false
    if (text.startsWith('--', open + 2)) {
      if (text[open + 4] === '>') this.at = open + 5
      else if (text.startsWith('->', open + 4)) this.at = open + 6
      else this.enter(Mode.Comment, open + 4)
    } else if (this.foreign.inside && text.startsWith('[CDATA[', open + 2)) this.enter(Mode.Cdata, open + 9)
    else this.enter(Mode.Bogus, open + 2)
    return true
  }

  private ending = false

  /** Reads what was held back because more might have come. */
  finish(): number {
    this.ending = true
    this.codes = this.memory.of(this.text)
    while (this.step());
    return this.text.length
  }

  private enter(mode: Mode, at: number): void {
    this.mode = mode
    this.at = at
  }

  /** Goes behind the end of a comment or its like; keeps back as much as could be the end's beginning. */
  private readTo(end: RegExp, keep: number): boolean {
    end.lastIndex = this.at
    const match = end.exec(this.text)
    return match ? this.leave(match.index + match[0].length) : this.keepBack(keep)
  }

  private readRaw(): boolean {
    const end = RAW_ENDS.get(this.rawName)!
    end.lastIndex = this.at
    const match = end.exec(this.text)
    // `</textarea` and one more character.
    return match ? this.leave(match.index) : this.keepBack(11)
  }

  /** The script data states: `</script` ends a script unless it stands behind `<!--` and another `<script`. */
  private readScript(): boolean {
    const { text } = this
    for (;;) {
      const landmark = this.scriptEscape === 0 ? SCRIPT_PLAIN : SCRIPT_ESCAPED
      landmark.lastIndex = this.at
      if (!landmark.test(text)) return this.keepBack(11)
      // What was found is told by its last character: `-->`, `<!--`, or a tag's name.
      const end = landmark.lastIndex
      const last = text.charCodeAt(end - 1)
      if (last === GREATER) {
        this.scriptEscape = 0
        this.at = end
      } else if (last === DASH) {
        this.scriptEscape = 1
        // These dashes may be those of `-->` as well.
        this.at = end - 2
      } else if (text.charCodeAt(end - 7) !== SLASH) {
        this.scriptEscape = 2
        this.at = end
      } else if (this.scriptEscape === 2) {
        this.scriptEscape = 1
        this.at = end
      } else return this.leave(end - 8)
    }
  }

  private leave(at: number): boolean {
    this.enter(Mode.Text, at)
    return true
  }

  /** Waits for more, with so many characters kept in sight. */
  private keepBack(characters: number): boolean {
    this.at = Math.max(this.at, this.text.length - characters)
    return false
  }
}

const OPEN = 60
const SLASH = 47
const BANG = 33
const QUESTION = 63
const GREATER = 62
const DASH = 45
const BOGUS_END = />/g
const COMMENT_END = /--!?>/g
const CDATA_END = /]]>/g
const SCRIPT_PLAIN = /<(?:!--|\/script(?=[\t\n\f\r />]))/gi
const SCRIPT_ESCAPED = /-->|<\/?script(?=[\t\n\f\r />])/gi
const RAW_ENDS = new Map([...RAW_TEXT].map((name) => [name, new RegExp(`</${name}(?=[\\t\\n\\f\\r />])`, 'gi')]))
