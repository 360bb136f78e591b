import { useCallback, useState } from 'react'
import { knee, type WeighedPage } from '@unvelt/contract'
import { Chart, type Inks } from '../parts/chart.js'
import { WEIGHED_WORDS } from './weigh-words.js'

/** What a page costs along the values of one setting, with the value where the curve bends most. */
export function ValueCurve({ name, values, page }: { name: string; values: number[]; page: WeighedPage }) {
  const measures = Object.keys(WEIGHED_WORDS).filter((measure) =>
    page.figures[measure]?.every((figure) => figure.after !== null),
  )
  const telling = measures.filter((each) => differs(page, each))
  const [chosen, setChosen] = useState<string | null>(null)
  const measure = chosen ?? telling[0] ?? measures[0]
  if (measure === undefined) return null
  const costs = page.figures[measure]!.map(({ after }) => after!)
  return (
    <div className="mt-5 max-w-3xl">
      <label className="mb-1 flex items-center gap-2 text-[13px]">
        Along the values
        <select
          value={measure}
          onChange={(event) => setChosen(event.target.value)}
          className="h-8 border border-line bg-sheet px-2"
        >
          {measures.map((each) => (
            <option key={each} value={each}>
              {WEIGHED_WORDS[each]!.name}
              {!telling.includes(each) && ' (no difference measured)'}
            </option>
          ))}
        </select>
      </label>
      <Curve name={name} measure={measure} values={values} costs={costs} tells={telling.includes(measure)} />
    </div>
  )
}

/** Whether what is drawn is more than chance: a bend in noise is none. */
const differs = ({ figures }: WeighedPage, measure: string): boolean =>
  figures[measure]!.some(({ word }) => word === 'better' || word === 'worse')

interface CurveProps {
  tells: boolean
  name: string
  measure: string
  values: number[]
  costs: number[]
}

function Curve({ name, measure, values, costs, tells }: CurveProps) {
  const words = WEIGHED_WORDS[measure]!
  const bend = tells ? knee(values.map((value, n) => ({ value, cost: costs[n]! }))) : null
  const config = useCallback(
    ({ ink, soft, line, verdigris }: Inks) => ({
      type: 'line' as const,
      data: {
        datasets: [
          {
            label: words.name,
            data: values.map((x, n) => ({ x, y: costs[n]! })),
            borderColor: ink,
            borderWidth: 1.5,
            pointRadius: values.map((value) => (value === bend ? 7 : 3)),
            pointBackgroundColor: values.map((value) => (value === bend ? verdigris : ink)),
          },
        ],
      },
      options: {
        maintainAspectRatio: false,
        scales: {
          x: {
            type: 'linear' as const,
            title: { display: true, text: name, color: soft },
            ticks: { color: soft },
            grid: { display: false },
          },
          y: {
            beginAtZero: true,
            ticks: { color: soft, callback: (value: string | number) => words.long(Number(value)) },
            grid: { color: line },
          },
        },
        plugins: {
          tooltip: { callbacks: { label: ({ raw }: { raw: unknown }) => words.long((raw as { y: number }).y) } },
        },
      },
    }),
    [name, values, costs, words, bend],
  )
  return (
    <>
      <Chart title={`${words.name} by ${name.toLowerCase()}`} height={220} config={config}>
        <table className="figures text-[13px]">
          <tbody>
            {values.map((value, n) => (
              <tr key={value} className="border-b border-line/60">
                <th className="py-1 pr-6 text-left font-normal">{value}</th>
                <td className="text-right">{words.long(costs[n]!)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Chart>
      <p className="mt-1 text-[13px] text-soft">
        {!tells
          ? 'No value differs measurably from the first.'
          : bend === null
            ? 'It runs straight: no value stands out.'
            : `It bends most at ${bend}.`}
      </p>
    </>
  )
}
