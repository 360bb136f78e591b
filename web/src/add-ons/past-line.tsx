import { useMemo, useState } from 'react'
import { useSearchParams } from 'react-router'
import { MEASURES, type AddOnPast, type Measure } from '@unvelt/contract'
import { MEASURE_WORDS } from '../figures/format.js'

const WIDTH = 284
const HEIGHT = 44

/** A row's figures over past sweeps, as a line with its figures below it. */
export function PastLine({ past }: { past: AddOnPast[] }) {
  const [search] = useSearchParams()
  const asked = search.get('measure')
  const measure: Measure = MEASURES.find((each) => each === asked) ?? 'transferBytes'
  const [at, setAt] = useState(past.length - 1)
  const points = useMemo(() => pointsOf(past, measure), [past, measure])
  const chosen = past[Math.min(at, past.length - 1)]!
  const words = MEASURE_WORDS[measure]
  return (
    <figure className="mt-3">
      <figcaption className="text-[12.5px] text-soft">
        {words.name} over {past.length} sweeps
      </figcaption>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="mt-1 w-full overflow-visible"
        role="img"
        aria-label={past.map((each) => `${day(each.at)}: ${words.long(each.tolls[measure] ?? 0)}`).join(', ')}
      >
        <polyline
          points={points.map(([x, y]) => `${x},${y}`).join(' ')}
          fill="none"
          stroke="var(--ink)"
          strokeWidth="1.25"
        />
        {points.map(([x, y], index) => (
          <circle
            key={past[index]!.sweepId}
            cx={x}
            cy={y}
            r={index === at ? 4 : 3}
            fill={index === at ? 'var(--verdigris)' : 'var(--ink)'}
            onPointerEnter={() => setAt(index)}
          />
        ))}
      </svg>
      <p className="figures text-[13px]">
        {day(chosen.at)}: <b className="font-semibold">{words.long(chosen.tolls[measure] ?? 0)}</b>
        <span className="text-soft">
          {chosen.version ? `, version ${chosen.version}` : ''}
          {chosen.active === false ? ', switched off' : ''}
          {chosen.active === null && chosen.pages === 0 ? ', not there' : ''}
        </span>
      </p>
    </figure>
  )
}

/** Sweeps stand where they were made in time, from the first to the last. */
function pointsOf(past: readonly AddOnPast[], measure: Measure): [number, number][] {
  const times = past.map(({ at }) => new Date(at).getTime())
  const [first, last] = [times[0]!, times.at(-1)!]
  const most = Math.max(...past.map(({ tolls }) => tolls[measure] ?? 0), 1)
  return past.map(({ tolls }, index) => [
    4 + ((times[index]! - first) / (last - first || 1)) * (WIDTH - 8),
    HEIGHT - 4 - ((tolls[measure] ?? 0) / most) * (HEIGHT - 8),
  ])
}

const day = (iso: string) => new Date(iso).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })
