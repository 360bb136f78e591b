import { MEASURES, type Comparison, type ComparedTime, type Measure } from '@unvelt/contract'
import { count, MEASURE_WORDS, milliseconds, percent, plural, signed } from '../figures/format.js'
import { NotTold } from '../figures/toll-figure.js'
import { ofMean } from './of-mean.js'

interface RowProps {
  name: string
  then: number
  now: number
  format: (value: number) => string
  sure?: string
  /** On which sides the site tells nothing of it, so that a nought is none. */
  untold?: { then: boolean; now: boolean } | undefined
}

/** What the mean page costs on either side. */
export function MeanPage({ comparison: { mean, times, pages } }: { comparison: Comparison }) {
  const time = (measure: Measure | 'loadMs') => times.find((one) => one.measure === measure)
  const load = time('loadMs')
  return (
    <table aria-label="The mean page" className="figures mx-4 mt-3 mb-4 w-[calc(100%-2rem)] max-w-[860px]">
      <caption className="pb-1 text-left text-[13px] text-soft">
        {pages.length === 1 ? pages[0]!.title : `A page in the mean of ${plural(pages.length, 'page')}`}
      </caption>
      <thead>
        <tr className="border-b border-line text-left text-[12.5px] text-soft">
          <th className="py-1 font-normal">Measure</th>
          <th className="py-1 pl-2 text-right font-normal">then</th>
          <th className="py-1 pl-2 text-right font-normal">now</th>
          <th className="py-1 pl-2 text-right font-normal">difference</th>
          <th className="py-1 text-right font-normal max-md:hidden">of then</th>
          <th className="py-1 pl-6 font-normal max-md:pl-3">how sure</th>
        </tr>
      </thead>
      <tbody>
        {MEASURES.filter((measure) => mean.then[measure] > 0 || mean.now[measure] > 0).map((measure) => (
          <Row
            key={measure}
            name={MEASURE_WORDS[measure].name}
            then={mean.then[measure]}
            now={mean.now[measure]}
            format={ofMean(measure)}
            sure={sureWords(measure, time(measure))}
            untold={ofServer(measure) ? { then: mean.then.serverMs === 0, now: mean.now.serverMs === 0 } : undefined}
          />
        ))}
        {load && (
          <Row
            name="Load event"
            then={load.then}
            now={load.now}
            format={milliseconds}
            sure={sureWords('loadMs', load)}
          />
        )}
      </tbody>
    </table>
  )
}

/** A server takes some time for any page: where it took none, nobody told of it. */
const ofServer = (measure: Measure) => measure === 'serverMs' || measure === 'queries' || measure === 'queryMs'

function Row({ name, then, now, format, sure, untold }: RowProps) {
  const difference = now - then
  const isUntold = untold !== undefined && (untold.then || untold.now)
  return (
    <tr className="border-b border-line/60">
      <th className="py-1.5 text-left font-normal">{name}</th>
      <td className="py-1.5 pl-2 text-right whitespace-nowrap">{untold?.then ? <NotTold /> : format(then)}</td>
      <td className="py-1.5 pl-2 text-right font-semibold whitespace-nowrap">
        {untold?.now ? <NotTold /> : format(now)}
      </td>
      <td className="py-1.5 pl-2 text-right font-semibold whitespace-nowrap">
        {isUntold ? '–' : difference === 0 ? 'none' : signed(difference, format)}
      </td>
      <td className="py-1.5 text-right text-soft max-md:hidden">
        {isUntold || then === 0 || difference === 0 ? '–' : signed(difference / then, percent)}
      </td>
      <td className="py-1.5 pl-6 text-[13.5px] max-md:pl-3 text-soft">{isUntold ? 'told on one side only' : sure}</td>
    </tr>
  )
}

/** Counts and bytes are what they are; a time says how sure its difference is. */
function sureWords(measure: Measure | 'loadMs', time: ComparedTime | undefined): string {
  if (!time) return measure.endsWith('Ms') ? 'read too seldom for a word' : 'counted'
  const { word, low, high, pages } = time
  const interval =
    low === null || high === null ? '' : `, ${signed(low, milliseconds)} to ${signed(high, milliseconds)}`
  return `${word}${interval} (${count(pages)} read more than once)`
}
