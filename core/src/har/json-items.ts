/** One element of an array that was asked for, as JSON text. */
export interface JsonItem {
  /** The array's path, joined by dots. */
  path: string
  /** Place in the array, from 0. */
  index: number
  text: string
}

/** A file that is no JSON, or not the JSON that was expected, with the place. */
export class JsonProblem extends Error {
  constructor(
    message: string,
    /** Bytes from the beginning of the file. */
    readonly offset: number,
  ) {
    super(message)
  }
}

const QUOTE = 34
const BACKSLASH = 92
const OPEN_OBJECT = 123
const CLOSE_OBJECT = 125
const OPEN_ARRAY = 91
const CLOSE_ARRAY = 93
const COMMA = 44
const COLON = 58
const LONGEST_ITEM = 256 * 1024 * 1024
const LONGEST_KEY = 1_000
const DEEPEST = 1_000

interface Level {
  isArray: boolean
  /** Of an object: the key at hand. */
  key: string
  index: number
}

/**
 * Cuts the elements of some arrays out of a JSON stream (RFC 8259) without holding more of it than one element. Only
 * brackets and strings are looked at; the elements themselves are for `JSON.parse`, which checks them and is faster than
 * any tokenizer in this language.
 */
export class JsonItems {
  private readonly levels: Level[] = []
  private offset = 0
  private ended = false
  /** Where reading stands: outside strings, in one, or behind a backslash. */
  private inString = false
  private escaped = false
  private key: number[] | null = null
  /** Depth of brackets within the element at hand; -1 between elements. */
  private depth = -1
  private parts: Uint8Array[] = []
  private size = 0
  private readonly decoder = new TextDecoder('utf-8')
  private readonly mostKeys: number
  /** Levels that are objects. */
  private keys = 0

  /** @param paths of arrays of objects, keys joined by dots: `log.entries` */
  constructor(private readonly paths: ReadonlySet<string>) {
    this.mostKeys = Math.max(...[...paths].map((path) => path.split('.').length))
  }

  /** Takes a piece of the file and gives the elements that it ends. @throws JsonProblem */
  *push(chunk: Uint8Array): Generator<JsonItem> {
    let at = 0
    // A byte order mark is none of JSON, and many programs write one.
    if (this.offset === 0 && chunk[0] === 0xef && chunk[1] === 0xbb && chunk[2] === 0xbf) at = 3
    while (at < chunk.length) {
      if (this.depth >= 0) {
        const from = at
        at = this.skimItem(chunk, at)
        this.keep(chunk.subarray(from, at))
        if (this.depth === 0) yield this.takeItem()
      } else at = this.step(chunk, at)
    }
    this.offset += chunk.length
  }

  /** @throws JsonProblem when the file is not over yet */
  end(): void {
    if (!this.ended) throw new JsonProblem('The file ends in the middle', this.offset)
  }

  /** Goes on to where the chunk ends, if the element does not end before. */
  private skimItem(chunk: Uint8Array, from: number): number {
    const { length } = chunk
    let { inString, depth } = this
    let i = from
    if (this.escaped && i < length) {
      this.escaped = false
      i++
    }
    while (i < length) {
      if (inString) {
        // Most of a file lies within strings, and the engine's own search is many times faster than a loop.
        const quote = chunk.indexOf(QUOTE, i)
        const end = quote < 0 ? length : quote
        const isEscaped = backslashesBefore(chunk, end, i) % 2 === 1
        if (quote < 0) this.escaped = isEscaped
        else inString = isEscaped
        i = end + 1
        continue
      }
      const c = chunk[i++]!
      if (c === QUOTE) inString = true
      else if (c === OPEN_OBJECT || c === OPEN_ARRAY) depth++
      else if (c === CLOSE_OBJECT || c === CLOSE_ARRAY) {
        depth--
        if (depth === 0) break
      }
    }
    this.inString = inString
    this.depth = depth
    return Math.min(i, length)
  }

  private keep(piece: Uint8Array): void {
    this.size += piece.length
    if (this.size > LONGEST_ITEM) throw new JsonProblem('An element is larger than 256 MB', this.offset)
    // The caller may use its buffer again.
    this.parts.push(this.depth === 0 && this.parts.length === 0 ? piece : piece.slice())
  }

  private takeItem(): JsonItem {
    const level = this.levels.at(-1)!
    const text = this.parts.map((part) => this.decoder.decode(part, { stream: true })).join('') + this.decoder.decode()
    const item = { path: this.path(), index: level.index, text }
    this.depth = -1
    this.parts = []
    this.size = 0
    return item
  }

  /** One byte outside elements. */
  private step(chunk: Uint8Array, at: number): number {
    const c = chunk[at]!
    if (this.inString) {
      this.inKey(c)
      return at + 1
    }
    const level = this.levels.at(-1)
    if (c === QUOTE) {
      this.inString = true
      this.key = []
    } else if (c === COLON) {
      if (!level || level.isArray) throw this.unexpected(c, at)
      level.key = this.decoder.decode(Uint8Array.from(this.key ?? []))
    } else if (c === COMMA) {
      if (!level) throw this.unexpected(c, at)
      level.index++
    } else if (c === OPEN_OBJECT || c === OPEN_ARRAY) {
      if (this.ended) throw this.unexpected(c, at)
      if (c === OPEN_OBJECT && level?.isArray && this.keys <= this.mostKeys && this.paths.has(this.path())) {
        // The opening bracket itself is read as part of the element.
        this.depth = 0
        return at
      }
      if (this.levels.length >= DEEPEST)
        throw new JsonProblem(`Expected at most ${DEEPEST} brackets in each other`, this.offset + at)
      if (c === OPEN_OBJECT) this.keys++
      this.levels.push({ isArray: c === OPEN_ARRAY, key: '', index: 0 })
    } else if (c === CLOSE_OBJECT || c === CLOSE_ARRAY) {
      if (!level || level.isArray !== (c === CLOSE_ARRAY)) throw this.unexpected(c, at)
      if (!level.isArray) this.keys--
      this.levels.pop()
      this.ended = this.levels.length === 0
    } else if (!level && !isSpace(c)) throw this.unexpected(c, at)
    return at + 1
  }

  private inKey(c: number): void {
    if (this.escaped) this.escaped = false
    else if (c === BACKSLASH) this.escaped = true
    else if (c === QUOTE) {
      this.inString = false
      return
    }
    if (this.key && this.key.length < LONGEST_KEY) this.key.push(c)
  }

  private path(): string {
    return this.levels
      .filter((level) => !level.isArray)
      .map((level) => level.key)
      .join('.')
  }

  private unexpected(c: number, at: number): JsonProblem {
    return new JsonProblem(`“${String.fromCharCode(c)}” is not what JSON has here`, this.offset + at)
  }
}

/** How many backslashes stand right before a place, down to `from`. */
function backslashesBefore(chunk: Uint8Array, at: number, from: number): number {
  let first = at
  while (first > from && chunk[first - 1] === BACKSLASH) first--
  return at - first
}

const isSpace = (c: number) => c === 32 || c === 10 || c === 13 || c === 9
