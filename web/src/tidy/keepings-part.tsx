import { useState } from 'react'
import type { AiryTable, Keeping, TidyRequest, Tidying } from '@unvelt/contract'
import { rememberedWho } from '../add-ons/change-add-on.js'
import { useKeepings, useTidy } from '../api/tidy.js'
import { bytes, count, dateTime, percent, plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'
import { Window } from '../parts/window.js'

interface Asked {
  title: string
  note: string
  wish: TidyRequest
}

/** What the CMS itself keeps for nobody, by sort and age, and tables that are mostly air. */
export function KeepingsPart({ siteId }: { siteId: number }) {
  const { data, isPending, error, refetch } = useKeepings(siteId)
  const [asked, setAsked] = useState<Asked | null>(null)
  const running = data?.tidyings.some(({ state }) => state === 'running') ?? false
  const kept = data?.keepings.filter(({ ages }) => (ages[0]?.rows ?? 0) > 0) ?? []
  if (data && kept.length === 0 && data.airy.length === 0 && data.tidyings.length === 0) return null
  return (
    <section aria-label="Kept for nobody" className="border-t border-line pb-3">
      <h2 className="px-4 pt-4 text-[17px]">Kept for nobody</h2>
      <p className="px-4 pb-1 text-[13px] text-soft">
        What the CMS itself goes on keeping. What goes is in a snapshot first, made and read back.
      </p>
      {isPending && <p className="px-4 py-2 text-soft">Asking the site …</p>}
      {error && (
        <p className="px-4 py-2 text-plum">
          {error.message}{' '}
          <Button weight="quiet" onClick={() => void refetch()}>
            Ask again
          </Button>
        </p>
      )}
      <ul>
        {kept.map((keeping) => (
          <OneKeeping key={keeping.id} keeping={keeping} busy={running} onAsk={setAsked} />
        ))}
      </ul>
      {data && data.airy.length > 0 && <Airy tables={data.airy} busy={running} onAsk={setAsked} />}
      {data && data.tidyings.length > 0 && (
        <ol aria-label="Tidied up" className="mt-2 px-4 text-[13.5px]">
          {data.tidyings.map((tidying) => (
            <li key={tidying.id} className={tidying.state === 'failed' ? 'text-plum' : ''}>
              <span className="figures mr-3 text-soft">{dateTime(tidying.askedAt)}</span>
              {tidyWords(tidying)} {tidying.who && <span className="text-soft">{tidying.who}</span>}
            </li>
          ))}
        </ol>
      )}
      {asked && <Confirm siteId={siteId} asked={asked} onClose={() => setAsked(null)} />}
    </section>
  )
}

const ageWords = (days: number) =>
  days === 0
    ? 'of whatever age'
    : days % 365 === 0
      ? `older than ${plural(days / 365, 'year')}`
      : `older than ${plural(days, 'day')}`

interface KeepingProps {
  keeping: Keeping
  busy: boolean
  onAsk(asked: Asked): void
}

function OneKeeping({ keeping: { id, name, ask, ages }, busy, onAsk }: KeepingProps) {
  // The oldest first: the least likely to be missed.
  const some = ages.filter(({ rows }) => rows > 0)
  const [chosen, setChosen] = useState(some.at(-1)!.olderThanDays)
  const age = some.find(({ olderThanDays }) => olderThanDays === chosen) ?? some.at(-1)!
  return (
    <li className="flex items-center gap-4 border-t border-line/60 px-4 py-1.5">
      <span className="min-w-0 flex-1">
        <span className="font-semibold">{name}</span>
        <span className="block text-[12.5px] text-soft">Ask {ask}.</span>
      </span>
      <select
        aria-label={`How old, of ${name}`}
        value={age.olderThanDays}
        onChange={(event) => setChosen(Number(event.target.value))}
        className="h-8 border border-line bg-sheet px-2"
      >
        {some.map(({ olderThanDays }) => (
          <option key={olderThanDays} value={olderThanDays}>
            {ageWords(olderThanDays)}
          </option>
        ))}
      </select>
      <span className="figures w-24 text-right">{count(age.rows)}</span>
      <span className="figures w-20 text-right">{bytes(age.bytes)}</span>
      <Button
        disabled={busy}
        aria-label={`Remove ${name}`}
        className="w-32"
        onClick={() =>
          onAsk({
            title: `Remove ${name.toLowerCase()}, ${ageWords(age.olderThanDays)}?`,
            note: `${count(age.rows)} of them, ${bytes(age.bytes)}. To be asked first: ${ask}. A snapshot is made and read back before any of it goes.`,
            wish: { keeping: id, olderThanDays: age.olderThanDays },
          })
        }
      >
        Remove …
      </Button>
    </li>
  )
}

function Airy({ tables, busy, onAsk }: { tables: AiryTable[]; busy: boolean; onAsk(asked: Asked): void }) {
  const air = tables.reduce((sum, table) => sum + table.air, 0)
  return (
    <div className="flex items-center gap-4 border-t border-line/60 px-4 py-1.5">
      <span className="min-w-0 flex-1">
        <span className="font-semibold">Air in {plural(tables.length, 'table')}</span>
        <span className="block text-[12.5px] text-soft">
          {tables
            .slice(0, 5)
            .map((table) => `${table.name} of ${table.of} (${percent(table.air / table.bytes)})`)
            .join(', ')}
          {tables.length > 5 && ` and ${tables.length - 5} more`}
        </span>
      </span>
      <span className="figures w-20 text-right">{bytes(air)}</span>
      <Button
        disabled={busy}
        className="w-32"
        onClick={() =>
          onAsk({
            title: `Give the air in ${plural(tables.length, 'table')} back?`,
            note: `About ${bytes(air)}. Nobody can read or write a table while it is written anew, so pages that need it wait; for how long is told afterwards.`,
            wish: { tables: tables.map(({ name }) => name) },
          })
        }
      >
        Give it back …
      </Button>
    </div>
  )
}

function Confirm({ siteId, asked, onClose }: { siteId: number; asked: Asked; onClose(): void }) {
  const tidy = useTidy(siteId)
  const begin = () =>
    tidy.mutate(
      { ...asked.wish, who: rememberedWho() },
      { onSuccess: onClose, onError: (error) => toast.error(error.message) },
    )
  return (
    <Window title={asked.title} note={asked.note} width={560} onClose={onClose}>
      <div className="mt-4 flex gap-2">
        <Button weight="danger" disabled={tidy.isPending} onClick={begin}>
          {asked.wish.tables ? 'Give it back' : 'Remove them'}
        </Button>
        <Button weight="quiet" onClick={onClose}>
          Not now
        </Button>
      </div>
    </Window>
  )
}

function tidyWords({ state, what, said }: Tidying): string {
  if (state === 'running') return `${what}: under way at the site …`
  return state === 'failed' ? `${what}: nothing was done. ${said ?? ''}` : `${what}: ${said ?? 'done'}`
}
