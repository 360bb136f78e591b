import { MEASURES, type Measure, type Prediction } from '@unvelt/contract'
import { MEASURE_WORDS, percent, plural } from '../figures/format.js'

const SHOWN: Measure[] = ['requests', 'transferBytes', 'serverMs', 'queries']

const LATER: Measure[] = ['requests', 'transferBytes']

/** Less than this of anything is not worth a line in the tray. */
const LEAST_SHOWN = 0.5

/** A prediction in one line: what is spared over the pages the rules touch. */
export function SavingLine({ prediction }: { prediction: Prediction }) {
  const spared = SHOWN.filter((measure) => (prediction.saved[measure] ?? 0) >= LEAST_SHOWN)
  if (prediction.sweepId === null) return <span className="text-soft">Sweep the site to see what this spares.</span>
  const later = LATER.filter((measure) => (prediction.postponed[measure] ?? 0) >= LEAST_SHOWN)
  if (spared.length === 0 && later.length === 0)
    return <span className="text-soft">Spares nothing that was measured.</span>
  return (
    <span className="figures">
      {spared.map((measure, index) => (
        <span key={measure}>
          {index > 0 && ' · '}
          <b className="font-semibold">−{MEASURE_WORDS[measure].long(prediction.saved[measure]!)}</b>
        </span>
      ))}
      {later.length > 0 && (
        <span>
          {spared.length > 0 && ' · '}
          {later.map((measure) => MEASURE_WORDS[measure].long(prediction.postponed[measure]!)).join(', ')} only later
        </span>
      )}
      <span className="text-soft"> over {plural(prediction.pages, 'page')}</span>
      {prediction.toRehearse > 0 && (
        <span className="text-soft">, {plural(prediction.toRehearse, 'rule')} to be rehearsed</span>
      )}
      {prediction.outOfReach.length > 0 && (
        <span
          className="text-soft"
          title={prediction.outOfReach.map(({ url, because }) => `${url}: ${because}`).join('\n')}
        >
          , {plural(prediction.outOfReach.length, 'file')} out of reach
        </span>
      )}
    </span>
  )
}

/** A prediction measure by measure, against what the pages load now. */
export function SavingTable({ prediction }: { prediction: Prediction }) {
  const later = MEASURES.some((measure) => (prediction.postponed[measure] ?? 0) > 0)
  return (
    <table className="figures w-full">
      <thead>
        <tr className="border-b border-line text-left text-[12.5px] text-soft">
          <th className="py-1 font-normal">Predicted</th>
          <th className="py-1 text-right font-normal">spared</th>
          <th className="py-1 text-right font-normal">of page</th>
          {later && <th className="py-1 text-right font-normal">only later</th>}
        </tr>
      </thead>
      <tbody>
        {MEASURES.map((measure) => {
          const postponed = prediction.postponed[measure] ?? 0
          const saved = prediction.saved[measure] ?? 0
          return (
            <tr key={measure} className="border-b border-line/60">
              <th className="py-1 text-left font-normal">{MEASURE_WORDS[measure].name}</th>
              <td className="py-1 text-right">{saved === 0 ? '0' : `−${MEASURE_WORDS[measure].long(saved)}`}</td>
              <td className="py-1 pl-3 text-right text-soft">{percent(saved / (prediction.before[measure] ?? 0))}</td>
              {later && (
                <td className="py-1 pl-3 text-right">
                  {postponed === 0 ? '0' : MEASURE_WORDS[measure].long(postponed)}
                </td>
              )}
            </tr>
          )
        })}
      </tbody>
    </table>
  )
}
