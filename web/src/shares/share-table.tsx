import type { ProofShares, SharedFigure, ShareMeasure } from '@unvelt/contract'
import { measureWords } from '../proof/proof-words.js'
import { rangeWords, shareWords, togetherWords } from './share-words.js'

/** Told first of all that was read; the others have no room beside them. */
const SHOWN = ['requests', 'transferBytes', 'idleBytes', 'mainThreadMs', 'serverMs', 'loadMs']

/** Each change with what it has of the gain, measure by measure. */
export function ShareTable({ found }: { found: ProofShares }) {
  const measures = SHOWN.flatMap((name) => found.measures.find(({ measure }) => measure === name) ?? [])
  const together = measures.flatMap((measure) => togetherWords(measure) ?? [])
  const isDone = found.sweep.status === 'done'
  return (
    <div className="overflow-x-auto">
      <table aria-label={`Whose gain it is on ${found.page.path}`} className="figures mt-2 w-full max-w-[1180px]">
        <thead>
          <tr className="border-b border-line text-left text-[12.5px] text-soft">
            <th className="py-1 font-normal">Its share, and the 95 % interval</th>
            {measures.map(({ measure }) => (
              <th key={measure} className="py-1 pl-4 text-right font-normal">
                {measureWords(measure).name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {found.changes.map(({ words, touches }, at) => {
            const givesNothing = isDone && touches && measures.every(({ each }) => each[at]!.word === 'nothing')
            return (
              <tr key={words + at} className="border-b border-line/60 align-top">
                <th className="py-1.5 pr-3 text-left font-normal">
                  {words}
                  {!touches && <span className="block text-[12.5px] text-soft">does nothing on this page</span>}
                  {givesNothing && <span className="block text-[12.5px] text-plum">gives nothing here</span>}
                </th>
                {measures.map((measure) => (
                  <Cell key={measure.measure} measure={measure} at={at} touches={touches} />
                ))}
              </tr>
            )
          })}
          <tr className="border-b border-line align-top">
            <th className="py-1.5 text-left font-semibold">Together</th>
            {measures.map((measure) => (
              <Figure key={measure.measure} measure={measure} share={measure.total} />
            ))}
          </tr>
        </tbody>
      </table>
      {together.length > 0 && (
        <ul aria-label="What they do to each other" className="mt-2 max-w-3xl text-[13.5px]">
          {together.map((words) => (
            <li key={words}>{words}</li>
          ))}
        </ul>
      )}
    </div>
  )
}

function Cell({ measure, at, touches }: { measure: ShareMeasure; at: number; touches: boolean }) {
  if (!touches) return <td className="py-1.5 pl-4 text-right text-soft">–</td>
  return <Figure measure={measure} share={measure.each[at]!} />
}

/** What is sure stands out, what is not says so. */
function Figure({ measure, share }: { measure: ShareMeasure; share: SharedFigure }) {
  const weight = share.word === 'gives' ? 'font-semibold' : share.word === 'takes' ? 'text-plum' : 'text-soft'
  const range = share.word === 'nothing' ? '' : rangeWords(measure.measure, share)
  return (
    <td className="py-1.5 pl-4 text-right whitespace-nowrap">
      <data value={-share.estimate} className={weight}>
        {shareWords(measure, share)}
      </data>
      <span className="block text-[12px] text-soft">
        {[share.word === 'not sure' && share.low !== null && 'not sure', range].filter(Boolean).join(' · ')}
      </span>
    </td>
  )
}
