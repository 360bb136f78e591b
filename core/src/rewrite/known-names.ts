import { foreignRole } from './foreign-content.js'
import { OF_HEAD } from './page-start.js'
import type { Codes } from './tag-syntax.js'

/** Elements whose content is text up to their own end tag, as browsers with scripting read them. */
const RAW_TEXT = new Set(['script', 'style', 'textarea', 'title', 'xmp', 'iframe', 'noembed', 'noframes', 'noscript'])
/** Elements that end a select which stands open; and those that do something in one (HTML standard, section 13.2.6.4.16). */
const ENDS_SELECT = new Set(['select', 'input', 'textarea', 'keygen'])
const COUNTS_IN_SELECT = new Set(['script', 'template'])

/** What a tag of some name does to how the page is read on: looked up once for a name, and not once for a tag. */
export interface KnownName {
  /** In small letters. */
  name: string
  /** The same as numbers, which are compared faster. */
  letters: Uint8Array
  /** What it does in SVG and MathML; `NO_ROLE` where it does nothing. */
  role: number
  isWanted: boolean
  isRaw: boolean
  endsSelect: boolean
  /** A select keeps it. */
  countsInSelect: boolean
  isTemplate: boolean
  isForeignRoot: boolean
  /** It can stand in a page's head. */
  isOfHead: boolean
}

const known = (name: string, wanted: ReadonlySet<string>): KnownName => ({
  name,
  letters: Uint8Array.from(name, (letter) => letter.charCodeAt(0)),
  role: foreignRole(name),
  isWanted: wanted.has(name),
  isRaw: RAW_TEXT.has(name),
  endsSelect: ENDS_SELECT.has(name),
  countsInSelect: COUNTS_IN_SELECT.has(name) || ENDS_SELECT.has(name),
  isTemplate: name === 'template',
  isForeignRoot: name === 'svg' || name === 'math',
  isOfHead: OF_HEAD.has(name),
})

const NO_LETTERS = new Uint8Array()

/** A name that does nothing. */
export const unknownName = (name: string): KnownName => ({
  name,
  letters: NO_LETTERS,
  role: foreignRole(name),
  isWanted: false,
  isRaw: false,
  endsSelect: false,
  countsInSelect: false,
  isTemplate: false,
  isForeignRoot: false,
  isOfHead: OF_HEAD.has(name),
})

/** Where the table of beginnings keeps two letters, large or small. */
const pair = (codes: Codes, at: number) => ((codes[at]! & 31) << 5) | (codes[at + 1]! & 31)

/** Whether a name in small letters stands at a place, in letters of any size. */
function isSpelled(codes: Codes, start: number, letters: Uint8Array): boolean {
  for (let i = 0; i < letters.length; i++) {
    const c = codes[start + i]!
    const letter = letters[i]!
    // Digits have no second size.
    if (c !== letter && (letter < A || c + 32 !== letter)) return false
  }
  return true
}

const A = 97

/** The names that matter to a scanner, found by their first two letters. */
export class KnownNames {
  /** 1 where a name that begins with those two letters may matter. */
  private readonly beginnings = new Uint8Array(1 << 10)
  /** The names that begin so. */
  private readonly names: (KnownName[] | undefined)[] = []
  private last: KnownName | null = null

  /** `wanted` are names in small letters. */
  constructor(wanted: ReadonlySet<string>) {
    const names = new Set([...wanted, ...RAW_TEXT, ...ENDS_SELECT, 'template', 'svg', 'math', 'plaintext'])
    for (const name of names) {
      const entry = known(name, wanted)
      for (let second = 0; second < 32; second++) {
        // A name of one letter may be followed by anything.
        if (name.length > 1 && second !== (name.charCodeAt(1) & 31)) continue
        const at = ((name.charCodeAt(0) & 31) << 5) | second
        this.beginnings[at] = 1
        ;(this.names[at] ??= []).push(entry)
      }
    }
  }

  /** Two letters tell most tags from those that matter. */
  mayBe(codes: Codes, at: number): boolean {
    return this.beginnings[pair(codes, at)] === 1
  }

  find(codes: Codes, start: number, stop: number): KnownName | null {
    const length = stop - start
    // Pages say the same name again and again, and hostile ones say nothing else.
    const { last } = this
    if (last !== null && last.letters.length === length && isSpelled(codes, start, last.letters)) return last
    const names = this.names[pair(codes, start)]
    if (names !== undefined)
      for (let i = 0; i < names.length; i++) {
        const entry = names[i]!
        if (entry.letters.length === length && isSpelled(codes, start, entry.letters)) return (this.last = entry)
      }
    return null
  }
}

const made = new WeakMap<ReadonlySet<string>, KnownNames>()

/** One table for all scanners that look for the same. */
export function knownNames(wanted: ReadonlySet<string>): KnownNames {
  let names = made.get(wanted)
  if (!names) made.set(wanted, (names = new KnownNames(wanted)))
  return names
}
