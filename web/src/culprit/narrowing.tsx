import type { CulpritSearch, RuleView } from '@unvelt/contract'
import { plural } from '../figures/format.js'
import { draftWords } from './culprit-words.js'

const WIDEST = 18
const MOST_WIDTH = 420

/**
 * How the search narrows: a column for each draft, the likeliest first, and a row for each set that was tried. What broke it is
 * plum, what held is green; what was not in the set stays empty.
 */
export function Narrowing({ search, drafts }: { search: CulpritSearch; drafts: ReadonlyMap<string, RuleView> }) {
  const { suspects, tries, asking, culprits } = search
  const width = Math.max(3, Math.min(WIDEST, Math.floor(MOST_WIDTH / suspects.length)))
  const words = (id: string) => (drafts.has(id) ? draftWords(drafts.get(id)!) : 'a draft')
  const rows = [
    { changes: suspects.map(({ id }) => id), outcome: 'breaks', readings: null },
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
          <li key={row} className="flex items-center gap-3 leading-[18px]">
            <span aria-hidden className="flex gap-px">
              {suspects.map(({ id }) => (
                <span
                  key={id}
                  title={words(id)}
                  style={{ width }}
                  className={`h-3 border ${
                    !has.has(id)
                      ? 'border-line/70'
                      : outcome === 'breaks'
                        ? 'border-plum bg-plum'
                        : outcome === 'holds'
                          ? 'border-verdigris bg-verdigris/50'
                          : 'border-dashed border-ink'
                  }`}
                />
              ))}
            </span>
            <span className={outcome === 'breaks' ? 'text-plum' : outcome === 'holds' ? '' : 'text-soft'}>
              {row === 0 ? `all ${changes.length}` : changes.length === 1 ? words(changes[0]!) : changes.length}:{' '}
              {outcome === 'tried' ? 'being read …' : outcome === 'breaks' ? 'breaks it' : 'holds'}
              {readings !== null && readings > 1 && <span className="text-soft">, {plural(readings, 'reading')}</span>}
              {isFound && <b className="font-semibold"> – found</b>}
            </span>
          </li>
        )
      })}
    </ol>
  )
}

const same = (a: readonly string[], b: readonly string[]) => a.length === b.length && a.every((one) => b.includes(one))
