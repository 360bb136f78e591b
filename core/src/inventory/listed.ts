import { codeHash } from '../reading/inline-code.js'

/** An entry of an inventory as lists know it. `slug` is its name among machines. */
export interface ListedAddOn {
  slug: string
  name: string
  kind: string
  version: string | null
  author: string | null
  summary: string
  needs: string[]
}

/** A list that can't be read: where in it, and what was expected there. */
export class ListProblem extends Error {
  constructor(
    readonly at: string,
    readonly expected: string,
  ) {
    super(`${at}: expected ${expected}.`)
  }
}

export const KINDS_LISTED = ['plugin', 'widget', 'font', 'outside script', 'theme', 'built-in', 'snippet']
const LONGEST = 200

/** What entries are called among machines: a slug that stands there is kept, names that come out alike are told apart. */
export class Slugs {
  private readonly taken = new Set<string>()

  /** @param own A slug of the list's own; a name without Latin letters is called by its content. */
  of(name: string, own = ''): string {
    const slug = /^[a-z0-9][a-z0-9_-]{0,99}$/.test(own) ? own : slugOf(name) || `entry-${codeHash(name)}`
    let free = slug
    for (let n = 2; this.taken.has(free); n++) free = `${slug.slice(0, 95)}-${n}`
    this.taken.add(free)
    return free
  }
}

/** Small letters, digits and dashes; what a name becomes among machines. */
export const slugOf = (name: string): string =>
  name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 100)

/** A text of a list at a place, bounded. @throws ListProblem */
export function textAt(value: unknown, at: string, needed = false): string {
  if (value === undefined || value === null || value === '') {
    if (needed) throw new ListProblem(at, 'a text')
    return ''
  }
  if (typeof value !== 'string') throw new ListProblem(at, 'a text')
  if (value.length > LONGEST * 10) throw new ListProblem(at, `at most ${LONGEST * 10} letters`)
  return value
}
