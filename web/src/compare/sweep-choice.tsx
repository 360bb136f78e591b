import type { Site, Sweep } from '@unvelt/contract'
import { dateTime, plural } from '../figures/format.js'

export type Surveys = { site: Site; sweeps: Sweep[] }[]

interface SweepChoiceProps {
  label: string
  surveys: Surveys
  chosen: number
  onChoose: (sweep: number) => void
}

/** One of the sweeps of this site, or of another that Unvelt knows. */
export function SweepChoice({ label, surveys, chosen, onChoose }: SweepChoiceProps) {
  const filled = surveys.filter(({ sweeps }) => sweeps.length > 0)
  const options = (sweeps: Sweep[]) =>
    sweeps.map((sweep) => (
      <option key={sweep.id} value={sweep.id}>
        {wordsOf(sweep)}
      </option>
    ))
  return (
    <label className="grid min-w-0 gap-1">
      <span className="text-[13px] text-soft">{label}</span>
      <select
        className="h-9 w-full min-w-0 border border-line bg-sheet px-2 text-[15px]"
        value={chosen}
        onChange={({ target }) => onChoose(Number(target.value))}
      >
        {filled.length === 1
          ? options(filled[0]!.sweeps)
          : filled.map(({ site, sweeps }) => (
              <optgroup key={site.id} label={site.name}>
                {options(sweeps)}
              </optgroup>
            ))}
      </select>
    </label>
  )
}

const wordsOf = ({ id, startedAt, lens, pages, withoutRules, status }: Sweep): string =>
  [
    `Sweep ${id}, ${dateTime(startedAt)}`,
    lens,
    plural(pages, 'page'),
    withoutRules && 'rules set aside',
    status !== 'done' && (status === 'running' ? 'still reading' : status),
  ]
    .filter(Boolean)
    .join(' · ')
