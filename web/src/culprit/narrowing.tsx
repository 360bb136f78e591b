import type { CulpritSearch } from '@unvelt/contract'
import { plural } from '../figures/format.js'

const WIDEST = 18
const MOST_WIDTH = 420

interface NarrowingProps {
  search: Pick<CulpritSearch, 'suspects' | 'tries' | 'asking' | 'culprits'>
  /** What one of them is called. */
  words(id: string): string
  /** What is said of a set by which it shows, and of one by which it doesn't. */
  says?: { breaks: string; holds: string }
  /** That all of them break it is known without having been tried. */
  knowsAll?: boolean
  /** What it shows by is what is well again: green, and what does nothing is left pale. */
  mends?: boolean
}

/**
 * How a search narrows: a column for each that may be guilty, the likeliest first, and a row for each set that was tried. What broke
 * it is plum, what held is green; what was not in the set stays empty.
 */
export function Narrowing({ search, words, says = SAYS, knowsAll = true, mends = false }: NarrowingProps) {
  const { suspects, tries, asking, culprits } = search
  const width = Math.max(3, Math.min(WIDEST, Math.floor(MOST_WIDTH / suspects.length)))
  const rows = [
    ...(knowsAll ? [{ changes: suspects.map(({ id }) => id), outcome: 'breaks', readings: null } as const] : []),
    ...tries.map(({ changes, fails, readings }) => ({ changes, outcome: fails ? 'breaks' : 'holds', readings })),
    ...(asking ? [{ changes: asking, outcome: 'tried', readings: null }] : []),
  ] as const
  return (
    <ol aria-label="How it narrows" className="mt-2 text-[12.5px]">
      {rows.map(({ changes, outcome, readings }, row) => {
        const has = new Set(changes)
        const isFound = culprits !== null && outcome === 'breaks' && same(changes, culprits)
        return (
          // A set is never tried twice.
          <li key={row} className="flex flex-wrap items-center gap-x-3 leading-[18px]">
            <span aria-hidden className="flex gap-px">
              {suspects.map(({ id }) => (
                <span
                  key={id}
                  title={words(id)}
                  style={{ width }}
                  className={`h-3 border ${
                    !has.has(id)
                      ? 'border-line/70'
                      : outcome === 'tried'
                        ? 'border-dashed border-ink'
                        : (outcome === 'breaks') === mends
                          ? 'border-verdigris bg-verdigris/50'
                          : 'border-plum bg-plum'
                  }`}
                />
              ))}
            </span>
            <span className={outcome === 'tried' ? 'text-soft' : (outcome === 'breaks') === mends ? '' : 'text-plum'}>
              {setWords(changes, suspects.length, words)}:{' '}
              {outcome === 'tried' ? 'being read …' : outcome === 'breaks' ? says.breaks : says.holds}
              {readings !== null && readings > 1 && <span className="text-soft">, {plural(readings, 'reading')}</span>}
              {isFound && <b className="font-semibold"> – found</b>}
            </span>
          </li>
        )
      })}
    </ol>
  )
}

const SAYS = { breaks: 'breaks it', holds: 'holds' }

const setWords = (changes: readonly string[], all: number, words: (id: string) => string) =>
  changes.length === 0
    ? 'none'
    : changes.length === 1
      ? words(changes[0]!)
      : changes.length === all
        ? `all ${all}`
        : String(changes.length)

const same = (a: readonly string[], b: readonly string[]) => a.length === b.length && a.every((one) => b.includes(one))
