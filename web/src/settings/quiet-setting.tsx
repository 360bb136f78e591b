import { Plus, X } from 'lucide-react'
import { useState, type FormEvent } from 'react'
import type { QuietTime, Site } from '@unvelt/contract'
import { useChangeSite } from '../api/queries.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'
import { clock, minutesOf } from '../put-off/hours.js'

const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']
const ZONES = Intl.supportedValuesOf('timeZone')
const HERE = Intl.DateTimeFormat().resolvedOptions().timeZone
/** What most who set one want first: not on Fridays after noon. */
const FIRST: QuietTime = { days: [5], from: 720, until: 1440 }

/** Hours in which nothing goes live. */
export function QuietSetting({ site }: { site: Site }) {
  const change = useChangeSite(site.id)
  const [times, setTimes] = useState<QuietTime[]>(site.quiet.times)
  const [zone, setZone] = useState(site.quiet.times.length > 0 ? site.quiet.zone : HERE)
  const isSame =
    JSON.stringify(times) === JSON.stringify(site.quiet.times) && (times.length === 0 || zone === site.quiet.zone)
  const isWhole = times.every(({ days, from, until }) => days.length > 0 && from < until)
  const put = (n: number, more: Partial<QuietTime>) =>
    setTimes(times.map((time, at) => (at === n ? { ...time, ...more } : time)))
  const save = (event: FormEvent) => {
    event.preventDefault()
    change.mutate(
      { quiet: { zone, times } },
      { onError: (error) => toast.error(error.message), onSuccess: () => toast('Kept: when nothing goes live') },
    )
  }
  return (
    <section className="px-4 pt-6" aria-label="When nothing goes live">
      <h2 className="text-[17px]">When nothing goes live</h2>
      <form onSubmit={save}>
        <p className="text-[13.5px] text-soft">
          {times.length === 0
            ? 'Changes go live at any hour.'
            : 'In these hours drafts are put off until the next open one. What is live can always be taken back.'}
        </p>
        <ul className="mt-1">
          {times.map(({ days, from, until }, n) => (
            <li key={n} className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-line/60 py-1.5">
              <span role="group" aria-label={`Days of time ${n + 1}`} className="flex">
                {DAYS.map((name, at) => {
                  const isOn = days.includes(at + 1)
                  return (
                    <button
                      key={name}
                      type="button"
                      aria-pressed={isOn}
                      onClick={() =>
                        put(n, { days: isOn ? days.filter((day) => day !== at + 1) : [...days, at + 1].sort() })
                      }
                      className={`h-8 w-12 border-y border-r border-line first:border-l ${isOn ? 'bg-verdigris font-semibold text-on-verdigris' : 'bg-paper text-soft hover:text-ink'}`}
                    >
                      {name}
                    </button>
                  )
                })}
              </span>
              {(
                [
                  ['from', from],
                  ['until', until],
                ] as const
              ).map(([word, minutes]) => (
                <label key={word} className="flex items-center gap-2 text-soft">
                  {word}
                  <input
                    type="time"
                    aria-label={`Time ${n + 1} ${word}`}
                    value={Number.isNaN(minutes) ? '' : clock(minutes)}
                    onChange={({ target }) => put(n, { [word]: minutesOf(target.value, word === 'until') })}
                    className="figures h-8 border border-line bg-paper px-2 text-ink"
                  />
                </label>
              ))}
              {from >= until && (
                <span className="text-[13px] text-plum">Ends before it begins; a night is two times.</span>
              )}
              {days.length === 0 && <span className="text-[13px] text-plum">Choose a day.</span>}
              <button
                type="button"
                aria-label={`Remove time ${n + 1}`}
                className="ml-auto text-soft hover:text-ink"
                onClick={() => setTimes(times.filter((_, at) => at !== n))}
              >
                <X size={16} aria-hidden />
              </button>
            </li>
          ))}
        </ul>
        <div className="mt-2 flex flex-wrap items-center gap-4">
          <Button onClick={() => setTimes([...times, FIRST])} disabled={times.length >= 20}>
            <Plus size={15} aria-hidden /> Add hours
          </Button>
          {times.length > 0 && (
            <label className="flex items-center gap-2 text-soft">
              by the clock of
              <select
                value={zone}
                onChange={({ target }) => setZone(target.value)}
                className="h-8 max-w-56 border border-line bg-paper px-2 text-ink"
              >
                {[...new Set([zone, HERE, 'UTC', ...ZONES])].map((name) => (
                  <option key={name}>{name}</option>
                ))}
              </select>
            </label>
          )}
          <Button type="submit" className="ml-auto" disabled={isSame || !isWhole || change.isPending}>
            Save
          </Button>
        </div>
      </form>
    </section>
  )
}
