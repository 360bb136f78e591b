import { Pause, Play, SkipBack, SkipForward } from 'lucide-react'
import { useMemo, type KeyboardEvent } from 'react'
import type { FilmedLoad } from '@unvelt/contract'
import { milliseconds } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { frameAt, momentAfter, momentBefore, momentsOf, SPEEDS, useClock } from './clock.js'
import { FilmLanes } from './film-lanes.js'

const TAIL_MS = 300
const WORDS = { before: 'Before', after: 'After' }

/** Two loads side by side on one clock. */
export function FilmPlayer({ filmId, before, after }: { filmId: number; before: FilmedLoad; after: FilmedLoad }) {
  const end = useMemo(() => endOf([before, after]), [before, after])
  const moments = useMemo(() => momentsOf([before.frames, after.frames], end), [before, after, end])
  const { at, playing, speed, setSpeed, goTo, toggle } = useClock(end)
  const onKeyDown = (event: KeyboardEvent) => {
    const to = { ArrowRight: momentAfter, ArrowLeft: momentBefore }[event.key]
    if (!to || event.target instanceof HTMLSelectElement) return
    event.preventDefault()
    goTo(to(moments, at))
  }
  return (
    <div role="group" aria-label="Both loads on one clock" onKeyDown={onKeyDown} className="mt-2">
      <div className="grid max-w-[980px] grid-cols-2 gap-4 max-md:grid-cols-1">
        {[before, after].map((load) => (
          <Screen key={load.side} filmId={filmId} load={load} at={at} />
        ))}
      </div>
      <div className="mt-2 flex max-w-[980px] flex-wrap items-center gap-2">
        <Button aria-label="To the moment before" className="px-2!" onClick={() => goTo(momentBefore(moments, at))}>
          <SkipBack size={15} aria-hidden />
        </Button>
        <Button weight="main" onClick={toggle}>
          {playing ? <Pause size={15} aria-hidden /> : <Play size={15} aria-hidden />}
          {playing ? 'Hold' : 'Play'}
        </Button>
        <Button aria-label="To the next moment" className="px-2!" onClick={() => goTo(momentAfter(moments, at))}>
          <SkipForward size={15} aria-hidden />
        </Button>
        <input
          type="range"
          aria-label="Time since the loads began"
          aria-valuetext={milliseconds(at)}
          min={0}
          max={end}
          step={1}
          value={Math.round(at)}
          onChange={(event) => goTo(Number(event.target.value))}
          className="min-w-40 flex-1 accent-verdigris"
        />
        <output className="figures w-20 text-right">{milliseconds(Math.round(at))}</output>
        <select
          aria-label="Speed"
          value={speed}
          onChange={(event) => setSpeed(Number(event.target.value))}
          className="h-8 border border-line bg-paper px-2"
        >
          {SPEEDS.map((one) => (
            <option key={one} value={one}>
              {one === 1 ? 'As it was' : one === 0.5 ? 'Half as fast' : 'A quarter as fast'}
            </option>
          ))}
        </select>
      </div>
      <FilmLanes before={before} after={after} at={at} end={end} />
    </div>
  )
}

/** What was to be seen at a moment, and what had happened by then. */
function Screen({ filmId, load, at }: { filmId: number; load: FilmedLoad; at: number }) {
  const shown = frameAt(load.frames, at)
  const { firstPaintMs, largestPaintMs, loadMs } = load
  const marks = [
    ['first paint', firstPaintMs],
    ['largest paint', largestPaintMs],
    ['load event', loadMs],
  ] as const
  return (
    <figure className="min-w-0">
      <figcaption className="flex flex-wrap items-baseline gap-x-3">
        <b className="font-semibold">{WORDS[load.side]}</b>
        {marks.map(([name, ms]) =>
          ms === null ? null : (
            <span key={name} className={`figures text-[12.5px] ${ms <= at ? 'font-semibold text-ink' : 'text-soft'}`}>
              {name} {milliseconds(ms)}
            </span>
          ),
        )}
      </figcaption>
      <div className="mt-1 grid aspect-[16/10] place-items-center overflow-hidden border border-line bg-white">
        {load.frames.map((painted, n) => (
          // All are there from the beginning, so that none comes late.
          <img
            key={painted + n}
            src={`/api/films/${filmId}/${load.side}/${n}`}
            alt={n === shown ? `${WORDS[load.side]}, ${milliseconds(Math.round(at))} after the load began` : ''}
            hidden={n !== shown}
            className="size-full object-contain object-top"
          />
        ))}
      </div>
    </figure>
  )
}

/** A little behind the last that happened in either. */
const endOf = (loads: readonly FilmedLoad[]): number =>
  TAIL_MS + Math.ceil(Math.max(...loads.flatMap(({ frames, loadMs }) => [frames.at(-1) ?? 0, loadMs ?? 0])))
