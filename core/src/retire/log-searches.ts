import { logLines } from './log-lines.js'

/** What visitors looked for on the site itself. */
export interface Searched {
  /** As it was typed, in small letters. */
  asked: string
  times: number
}

/** Names that sites give to the field of their search. */
const FIELDS = ['q', 's', 'query', 'search', 'keyword', 'keywords', 'term', 'find']
const MOST_TOLD = 50
const LONGEST = 200

/**
 * Searches on the site since a moment that have one of some words in them, the most asked first: whoever misses something looks for
 * it. A word is found at the begin of a word too ("tally" in "tallying"), whatever its letters' case.
 */
export function searchesFor(log: string, since: Date, words: readonly string[]): Searched[] {
  const wanted = words.map(plain).filter((word) => word !== '')
  if (wanted.length === 0) return []
  const found = new Map<string, number>()
  for (const { target } of logLines(log, since)) {
    const asked = askedIn(target)
    if (asked === null || !wanted.some((word) => ` ${asked}`.includes(` ${word}`))) continue
    found.set(asked, (found.get(asked) ?? 0) + 1)
  }
  return [...found]
    .map(([asked, times]) => ({ asked, times }))
    .sort((a, b) => b.times - a.times || a.asked.localeCompare(b.asked))
    .slice(0, MOST_TOLD)
}

function askedIn(target: string): string | null {
  const from = target.indexOf('?')
  if (from < 0) return null
  const query = new URLSearchParams(target.slice(from + 1))
  for (const field of FIELDS) {
    const asked = plain(query.get(field) ?? '')
    if (asked !== '') return asked
  }
  return null
}

const plain = (text: string): string =>
  text
    .slice(0, LONGEST)
    .toLowerCase()
    .replace(/[\s\p{P}]+/gu, ' ')
    .trim()

/** Said of many things, so whoever looks for it need not mean this one. */
const COMMON = new Set(
  'the and for with old new add-on addon plugin widget block page pages site free plus pro lite share simple easy more from'.split(
    ' ',
  ),
)
const LEAST_LETTERS = 4

/** Words by which an add-on may be looked for: those of its name, and of its parts' names, that are not said of everything. */
export function wordsOf(names: readonly string[]): string[] {
  const words = names.flatMap((name) => plain(name).split(' '))
  return [...new Set(words)].filter((word) => word.length >= LEAST_LETTERS && !COMMON.has(word))
}
