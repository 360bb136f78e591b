import {
  BarController,
  BarElement,
  CategoryScale,
  Chart as ChartJs,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  Tooltip,
  type ChartConfiguration,
} from 'chart.js'
import { useEffect, useRef, useState, type ReactNode } from 'react'

ChartJs.register(
  BarController,
  BarElement,
  CategoryScale,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  Tooltip,
)
ChartJs.defaults.font.family = '"Source Sans 3 Variable", system-ui, sans-serif'
ChartJs.defaults.font.size = 12
ChartJs.defaults.animation = false

export interface Inks {
  ink: string
  soft: string
  line: string
  verdigris: string
  ramp: string[]
}

interface ChartProps {
  title: string
  height: number
  /** Draws with the colours of the look that is on. */
  config(inks: Inks): ChartConfiguration
  /** The same figures as a table. */
  children: ReactNode
}

/** A chart with the same figures as a table behind it. */
export function Chart({ title, height, config, children }: ChartProps) {
  const canvas = useRef<HTMLCanvasElement>(null)
  const [asTable, setAsTable] = useState(false)
  useEffect(() => {
    if (asTable || !canvas.current) return
    let chart = new ChartJs(canvas.current, config(inksOf()))
    // Light and dark are an attribute of the document; a canvas has to be drawn anew.
    const watch = new MutationObserver(() => {
      chart.destroy()
      chart = new ChartJs(canvas.current!, config(inksOf()))
    })
    watch.observe(document.documentElement, { attributes: true, attributeFilter: ['data-look'] })
    return () => {
      watch.disconnect()
      chart.destroy()
    }
  }, [config, asTable])
  return (
    <section aria-label={title}>
      <div className="flex items-baseline justify-between">
        <h2 className="text-[17px]">{title}</h2>
        <button
          type="button"
          className="text-[13px] text-verdigris hover:underline"
          onClick={() => setAsTable(!asTable)}
        >
          {asTable ? 'As a chart' : 'As a table'}
        </button>
      </div>
      {asTable ? (
        <div className="mt-1.5">{children}</div>
      ) : (
        <div className="relative mt-1.5" style={{ height }}>
          <canvas ref={canvas} role="img" aria-label={`${title}; the figures are in the table behind it`} />
        </div>
      )}
    </section>
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
