import { useState } from 'react'
import type { NewerTable, SiteSnapshot, SnapshotTable } from '@unvelt/contract'
import { useRestore, useSnapshotInside } from '../api/snapshots.js'
import { rememberedWho } from '../add-ons/change-add-on.js'
import { count, dateTime, plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'
import { Window } from '../parts/window.js'

interface Props {
  siteId: number
  snapshot: SiteSnapshot
  /** Something is being put back already. */
  busy: boolean
}

/** What is in a snapshot, by whose it is; what has changed since comes first, since that is what putting it back overwrites. */
export function SnapshotTables({ siteId, snapshot, busy }: Props) {
  const { data, isPending, error } = useSnapshotInside(siteId, snapshot.id)
  const [asked, setAsked] = useState<{ slug?: string; name: string } | null>(null)
  if (isPending) return <p className="px-4 pb-2 text-soft">The site sums up its tables …</p>
  if (error) return <p className="px-4 pb-2 text-plum">{error.message}</p>
  const changed = data.tables.filter(({ same }) => !same)
  const owners = [...new Map(data.tables.filter(({ addOn }) => addOn).map(({ addOn, of }) => [addOn, of]))].sort(
    (a, b) => a[1].localeCompare(b[1]),
  )
  return (
    <div className="px-4 pb-3 pl-16">
      <p className={data.sound ? 'text-soft' : 'text-plum'}>
        {data.sound
          ? `${plural(data.tables.length, 'table')}, each read back as it was written; ${changed.length === 0 ? 'none has' : `${changed.length} have`} changed since.`
          : 'It is not what was written, so nothing can be put back from it.'}
      </p>
      {changed.length > 0 && <Changed tables={changed} />}
      {data.sound && (
        <div className="mt-2 flex flex-wrap items-center gap-3">
          <Button disabled={busy} onClick={() => setAsked({ name: 'All of it' })}>
            Put all of it back …
          </Button>
          <select
            aria-label={`What one add-on had in snapshot ${snapshot.id}`}
            value=""
            disabled={busy}
            onChange={(event) => {
              const owner = owners.find(([slug]) => slug === event.target.value)
              if (owner) setAsked({ slug: owner[0], name: owner[1] })
            }}
            className="h-8 border border-line bg-sheet px-2"
          >
            <option value="">or what one add-on had …</option>
            {owners.map(([slug, name]) => (
              <option key={slug} value={slug}>
                {name}
              </option>
            ))}
          </select>
        </div>
      )}
      {asked && (
        <Confirm
          siteId={siteId}
          snapshot={snapshot}
          asked={asked}
          newer={asked.slug === undefined ? data.newer : []}
          overwritten={changed.filter(({ addOn }) => asked.slug === undefined || addOn === asked.slug)}
          onClose={() => setAsked(null)}
        />
      )}
    </div>
  )
}

function Changed({ tables }: { tables: SnapshotTable[] }) {
  return (
    <table aria-label="Changed since" className="figures mt-1 text-[13px]">
      <thead>
        <tr className="border-b border-line text-left text-[12.5px] text-soft">
          <th className="py-1 pr-8 font-normal">Table</th>
          <th className="py-1 pr-8 font-normal">Of</th>
          <th className="py-1 pr-8 text-right font-normal">Rows in it</th>
          <th className="py-1 text-right font-normal">Rows now</th>
        </tr>
      </thead>
      <tbody>
        {tables.map(({ name, of, rows, rowsNow }) => (
          <tr key={name} className="border-b border-line/60">
            <td className="py-1 pr-8">{name}</td>
            <td className="py-1 pr-8 text-soft">{of || 'the site itself'}</td>
            <td className="py-1 pr-8 text-right">{count(rows)}</td>
            <td className="py-1 text-right">{rowsNow === null ? 'gone' : count(rowsNow)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

const MOST_NAMED = 8
const named = (tables: readonly { name: string }[]) =>
  tables
    .slice(0, MOST_NAMED)
    .map(({ name }) => name)
    .join(', ') + (tables.length > MOST_NAMED ? ` and ${tables.length - MOST_NAMED} more` : '')

interface ConfirmProps {
  siteId: number
  snapshot: SiteSnapshot
  asked: { slug?: string; name: string }
  overwritten: SnapshotTable[]
  /** Tables that go; null where the site does not tell. */
  newer: NewerTable[] | null
  onClose(): void
}

/** Before anything is put back: what would be written over, and what would be lost by it. */
function Confirm({ siteId, snapshot, asked, overwritten, newer, onClose }: ConfirmProps) {
  const restore = useRestore(siteId)
  const lost = overwritten.reduce((sum, { rows, rowsNow }) => sum + Math.max(0, (rowsNow ?? 0) - rows), 0)
  const begin = () =>
    restore.mutate(
      { id: snapshot.id, who: rememberedWho(), ...(asked.slug !== undefined && { addOn: asked.slug }) },
      {
        onSuccess: () => {
          toast(`${asked.name} is being put back from snapshot ${snapshot.id}.`)
          onClose()
        },
        onError: (error) => toast.error(error.message),
      },
    )
  return (
    <Window
      title={asked.slug === undefined ? `Put snapshot ${snapshot.id} back?` : `Put back what ${asked.name} had?`}
      note={`As it was on ${dateTime(snapshot.madeAt)}. ${asked.slug !== undefined ? 'All else at the site stays as it is.' : `The whole site goes back to it, but for its rules${newer === null ? '; tables that came since go' : ''}.`}`}
      width={560}
      onClose={onClose}
    >
      <p className="mt-3">
        {overwritten.length === 0
          ? 'Nothing that is in it has changed since, so nothing is written over.'
          : `${plural(overwritten.length, 'table')} ${overwritten.length === 1 ? 'has' : 'have'} changed since and would be written over: ${named(overwritten)}.`}
        {newer !== null && newer.length > 0 && (
          <span className="text-plum">
            {' '}
            {plural(newer.length, 'table')} came since and would go, with{' '}
            {plural(
              newer.reduce((sum, { rows }) => sum + rows, 0),
              'row',
            )}
            : {named(newer)}.
          </span>
        )}
        {lost > 0 && <span className="text-plum"> {plural(lost, 'row')} that came since would be lost.</span>}
      </p>
      <div className="mt-4 flex gap-2">
        <Button
          weight={overwritten.length + (newer?.length ?? 0) > 0 ? 'danger' : 'main'}
          disabled={restore.isPending}
          onClick={begin}
        >
          Put it back
        </Button>
        <Button weight="quiet" onClick={onClose}>
          Not now
        </Button>
      </div>
    </Window>
  )
}
