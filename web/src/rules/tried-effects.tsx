import type { GentleSearch, LoadedFigures, TriedEffect } from '@unvelt/contract'
import { bytes, plural } from '../figures/format.js'
import { effectWords } from './words.js'

/** Two loads of one page differ by so much for no reason. */
const LEAST_BYTES = 500

/** What was tried, what spares the most first, and what came of each; what works and spares the most stands out. */
export function TriedEffects({ search, narrow = false }: { search: GentleSearch; narrow?: boolean }) {
  const { tries, effects, state, reading, found } = search
  const inTurn = tries.filter(({ files }) => !files).length
  const next = state === 'running' && !reading ? (effects[inTurn] ?? null) : null
  return (
    <ol className="figures">
      {tries.map((tried) => (
        <li key={triedWords(tried)} className={narrow ? 'py-0.5' : 'flex gap-3'}>
          <span className={narrow ? 'block [overflow-wrap:anywhere]' : 'w-52 shrink-0 [overflow-wrap:anywhere]'}>
            {triedWords(tried)}
          </span>
          <span
            className={`min-w-0 flex-1 ${narrow ? 'block pl-3' : 'truncate'} ${isSame(tried, found) ? 'font-semibold' : 'text-soft'}`}
          >
            {tried.fails
              ? `breaks ${tried.why ?? 'a guard'}`
              : `all guards hold; ${sparedWords(search, tried, isSame(tried, found))}`}
          </span>
        </li>
      ))}
      {state === 'running' && !reading && (
        <li className={narrow ? 'py-0.5' : 'flex gap-3'}>
          <span className={narrow ? 'block' : 'w-52 shrink-0'}>
            {next && !tries.some(({ fails }) => !fails) ? effectWords(next) : 'one more of its files left out'}
          </span>
          <span className={`text-soft ${narrow ? 'block pl-3' : ''}`}>is being tried …</span>
        </li>
      )}
    </ol>
  )
}

const isSame = (one: TriedEffect, other: TriedEffect | null) => other !== null && triedWords(one) === triedWords(other)

/** An effect as it was tried, with the files that it was about. */
export const triedWords = (effect: TriedEffect): string =>
  effect.files ? `${effect.files.map(shortName).join(', ')} left out` : effectWords(effect)

const shortName = (file: string) => file.split('?')[0]!.split('/').findLast(Boolean) ?? file

/** What an effect spares until the page has loaded, beside what the whole would have spared. */
function sparedWords({ without, asItWas }: GentleSearch, tried: TriedEffect, isBest: boolean): string {
  const less = (figures: LoadedFigures): string | null => {
    const requests = Math.max(0, Math.round(without.requests - figures.requests))
    const size = Math.max(0, without.transferBytes - figures.transferBytes)
    return requests === 0 && size < LEAST_BYTES ? null : `${plural(requests, 'request')} and ${bytes(size)}`
  }
  const [spared, whole] = [less(tried.figures), less(asItWas)]
  const other = !isBest || whole === null || whole === spared ? '' : `; all of it would spare ${whole}`
  return spared === null ? `as much loads, only its turn is another${other}` : `at load it spares ${spared}${other}`
}
