import clsx from 'clsx'
import type { ProofFigure, WeighedPage, WeighedVariant } from '@unvelt/contract'
import { signed } from '../figures/format.js'
import { WEIGHED_WORDS } from './weigh-words.js'

interface Props {
  page: WeighedPage
  variants: readonly WeighedVariant[]
  running: boolean
}

/** Every measure under every variant; each but the first with how it differs from that. */
export function WeighedTable({ page, variants, running }: Props) {
  const rows = Object.keys(WEIGHED_WORDS).filter((measure) =>
    page.figures[measure]?.some((figure) => figure.after !== null),
  )
  const priced = variants.some(({ price }) => price !== undefined)
  return (
    <table aria-label={`${page.page.title} under each variant`} className="figures w-full table-fixed">
      <colgroup>
        <col className="w-36" />
        {variants.map(({ name }) => (
          <col key={name} />
        ))}
      </colgroup>
      <thead>
        <tr className="border-b border-line text-left align-bottom">
          <td />
          {variants.map(({ name }, n) => (
            <th key={name} className="py-1 pr-4 font-semibold break-words">
              {name}
              {n === 0 && (
                <span className="block text-[12.5px] font-normal text-soft">the others are held against it</span>
              )}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map((measure) => (
          <tr key={measure} className="border-b border-line/60 align-top">
            <th className="py-1.5 text-left font-normal">{WEIGHED_WORDS[measure]!.name}</th>
            {page.figures[measure]!.map((figure, n) => (
              <td key={variants[n]!.name} className="py-1.5 pr-4">
                <Weighed measure={measure} figure={figure} most={mostOf(page.figures[measure]!)} running={running} />
              </td>
            ))}
          </tr>
        ))}
        {priced && (
          <tr className="border-b border-line/60">
            <th className="py-1.5 text-left font-normal">Price a year</th>
            {variants.map(({ name, price }) => (
              <td key={name} className="py-1.5">
                {price === undefined ? '–' : price.toLocaleString('en')}
              </td>
            ))}
          </tr>
        )}
      </tbody>
    </table>
  )
}

/** What is not measured to differ is drawn like what it is held against. */
const INKS: Record<string, string> = { worse: 'bg-plum/70', better: 'bg-verdigris/70' }

const mostOf = (figures: readonly ProofFigure[]) => Math.max(...figures.map(({ after }) => after ?? 0), 0)

interface CellProps {
  measure: string
  figure: ProofFigure
  most: number
  running: boolean
}

function Weighed({ measure, figure, most, running }: CellProps) {
  const { after, difference, before, word } = figure
  const { long } = WEIGHED_WORDS[measure]!
  if (after === null) return <span className="text-soft">{running ? 'not yet' : '–'}</span>
  const isFirst = word === ''
  const delta = difference ?? (before === null ? null : after - before)
  return (
    <span title={titleOf(figure, long)}>
      <data value={after} className="font-semibold">
        {long(after)}
      </data>
      {!isFirst && delta !== null && (
        <span
          className={clsx(
            'ml-2 whitespace-nowrap',
            word === 'worse' ? 'text-plum' : word === 'better' ? 'text-verdigris' : 'text-soft',
          )}
        >
          {delta === 0 ? 'same' : signed(delta, long)}
        </span>
      )}
      <span aria-hidden className="mt-0.5 block h-1.5 bg-wash">
        <span
          className={clsx('block h-full', INKS[word] ?? 'bg-soft/60')}
          style={{ width: `${most === 0 ? 0 : (after / most) * 100}%` }}
        />
      </span>
      {!isFirst && delta !== 0 && !running && (
        <span className="block text-[12px] text-soft">{wordOf(figure, measure)}</span>
      )}
    </span>
  )
}

/** Use of code is looked at once a variant, and then it is what it is. */
const wordOf = ({ word, more }: ProofFigure, measure: string) =>
  measure === 'idleBytes' ? 'read once' : more > 0 ? `${word}, ${more} more` : word

function titleOf({ low, high, beforeReadings, afterReadings }: ProofFigure, long: (value: number) => string): string {
  const readings = `Readings: ${afterReadings.map(long).join(', ')}.`
  if (low === null || high === null || afterReadings === beforeReadings) return readings
  return `${readings} Against the first: ${signed(low, long)} to ${signed(high, long)} (95 %).`
}
