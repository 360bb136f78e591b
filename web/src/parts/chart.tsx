import type { Chart as Drawn, ChartConfiguration } from 'chart.js'
import { useEffect, useRef, useState, type ReactNode } from 'react'
import { useSeen } from './use-seen.js'

export interface Inks {
  ink: string
  soft: string
  line: string
  verdigris: string
  ramp: string[]
}

/** What draws with the colours of the look that is on. */
type Config = (inks: Inks) => ChartConfiguration

interface ChartProps {
  title: string
  height: number
  /** One, or several above each other that share the height. */
  config: Config | readonly Config[]
  /** The same figures as a table. */
  children: ReactNode
}

/** A chart with the same figures as a table behind it. */
export function Chart({ title, height, config, children }: ChartProps) {
  const [asTable, setAsTable] = useState(false)
  const configs = typeof config === 'function' ? [config] : config
  return (
    <section aria-label={title}>
      <TableSwitch title={title} asTable={asTable} setAsTable={setAsTable} />
      {asTable ? (
        <div className="mt-1.5">{children}</div>
      ) : (
        configs.map((each, n) => (
          <Drawing key={n} title={title} height={Math.round(height / configs.length)} config={each} />
        ))
      )}
    </section>
  )
}

/** The title of a chart, and the way to its figures as a table. */
export function TableSwitch({
  title,
  asTable,
  setAsTable,
}: {
  title: string
  asTable: boolean
  setAsTable: (asTable: boolean) => void
}) {
  return (
    <div className="flex items-baseline justify-between">
      <h2 className="text-[17px]">{title}</h2>
      <button type="button" className="text-[13px] text-verdigris hover:underline" onClick={() => setAsTable(!asTable)}>
        {asTable ? 'As a chart' : 'As a table'}
      </button>
    </div>
  )
}

/** Before so much of it is in the window, nothing can be read off it. */
const ENOUGH_TO_READ = 0.75

/** What draws weighs more than all else in a place, and comes when there is enough of it to be seen. */
function Drawing({ title, height, config }: { title: string; height: number; config: Config }) {
  const canvas = useRef<HTMLCanvasElement>(null)
  const seen = useSeen(canvas, ENOUGH_TO_READ)
  useEffect(() => {
    if (!seen) return
    let chart: Drawn | null = null
    let draw = () => {}
    // Light and dark are an attribute of the document; a canvas has to be drawn anew.
    const watch = new MutationObserver(() => draw())
    watch.observe(document.documentElement, { attributes: true, attributeFilter: ['data-look'] })
    void import('./draw-chart.js').then(({ drawChart }) => {
      if (gone) return
      draw = () => {
        chart?.destroy()
        chart = canvas.current && drawChart(canvas.current, config(inksOf()))
      }
      draw()
    })
    let gone = false
    return () => {
      gone = true
      watch.disconnect()
      chart?.destroy()
    }
  }, [config, seen])
  return (
    <div className="relative mt-1.5" style={{ height }}>
      <canvas ref={canvas} role="img" aria-label={`${title}; the figures are in the table behind it`} />
    </div>
  )
}

function inksOf(): Inks {
  const style = getComputedStyle(document.documentElement)
  const of = (name: string) => style.getPropertyValue(name).trim()
  return {
    ink: of('--ink'),
    soft: of('--soft'),
    line: of('--line'),
    verdigris: of('--verdigris'),
    ramp: [1, 2, 3, 4].map((n) => of(`--ramp-${n}`)),
  }
}
