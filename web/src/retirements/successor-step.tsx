import { useState } from 'react'
import { Link } from 'react-router'
import type { RetirementSheet } from '@unvelt/contract'
import { useAddOns } from '../api/queries.js'
import { useRetire } from '../api/retirements.js'
import { plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'
import { SUCCESSOR_WORDS } from './retirement-words.js'
import type { StepProps } from './step-list.js'

type Kind = keyof typeof SUCCESSOR_WORDS

/** What takes over its job, and the pages that have to be changed for it. */
export function SuccessorStep({ siteId, sheet, isNow }: StepProps) {
  const retire = useRetire(siteId)
  const { data: addOns = [] } = useAddOns(siteId)
  const { successor, worklist, id } = sheet
  const [kind, setKind] = useState<Kind>(successor?.kind ?? 'nothing')
  const [addon, setAddon] = useState(successor?.addon ?? '')
  const [note, setNote] = useState(successor?.note ?? '')
  const onError = (error: Error) => toast.error(error.message)
  const name = (slug: string | undefined) => addOns.find((one) => one.slug === slug)?.name ?? slug
  return (
    <>
      {successor && (
        <p>
          Taken over by {successor.kind === 'add-on' ? name(successor.addon) : SUCCESSOR_WORDS[successor.kind]}
          {successor.note && <span className="text-soft"> – {successor.note}</span>}{' '}
          {isNow && (
            <Button weight="quiet" onClick={() => retire.mutate({ id, change: { successor: null } }, { onError })}>
              Something else
            </Button>
          )}
        </p>
      )}
      {!successor && sheet.finishedAt === null && (
        <form
          className="mt-1.5 flex flex-wrap items-center gap-2"
          onSubmit={(event) => {
            event.preventDefault()
            const chosen = {
              kind,
              ...(kind === 'add-on' && addon && { addon }),
              ...(note.trim() && { note: note.trim() }),
            }
            retire.mutate({ id, change: { successor: chosen } }, { onError })
          }}
        >
          <select
            aria-label="What takes over"
            value={kind}
            onChange={(event) => setKind(event.target.value as Kind)}
            className="h-8 border border-line bg-paper px-2"
          >
            {Object.entries(SUCCESSOR_WORDS).map(([value, words]) => (
              <option key={value} value={value}>
                {words}
              </option>
            ))}
          </select>
          {kind === 'add-on' && (
            <select
              aria-label="Which add-on"
              value={addon}
              required
              onChange={(event) => setAddon(event.target.value)}
              className="h-8 border border-line bg-paper px-2"
            >
              <option value="">which?</option>
              {addOns
                .filter((one) => one.active && !one.gone && one.slug !== sheet.slug)
                .map((one) => (
                  <option key={one.slug} value={one.slug}>
                    {one.name}
                  </option>
                ))}
            </select>
          )}
          <input
            aria-label="Note"
            placeholder="Note"
            value={note}
            maxLength={2000}
            onChange={(event) => setNote(event.target.value)}
            className="h-8 min-w-0 flex-1 border border-line bg-paper px-2"
          />
          <Button type="submit" weight={isNow ? 'main' : 'plain'} disabled={retire.isPending}>
            Write it down
          </Button>
        </form>
      )}
      {worklist.length > 0 && <Worklist siteId={siteId} sheet={sheet} />}
    </>
  )
}

/** Pages to be changed by hand. They are crossed off by what readings and the site say, and by nobody. */
function Worklist({ siteId, sheet: { id, worklist, hasConnector } }: { siteId: number; sheet: RetirementSheet }) {
  const retire = useRetire(siteId)
  const onError = (error: Error) => toast.error(error.message)
  const open = worklist.filter(({ done }) => !done).length
  const work = (page: number, change: { owner?: string; due?: string }) =>
    retire.mutate({ id, page, work: change }, { onError })
  return (
    <div className="mt-2">
      <div className="flex items-center gap-3 text-[13.5px]">
        <span className="font-semibold">
          {open === 0
            ? worklist.length === 1
              ? 'The page is changed'
              : `All ${worklist.length} pages are changed`
            : `${open} of ${plural(worklist.length, 'page')} to be changed`}
        </span>
        {hasConnector && (
          <Button
            weight="quiet"
            disabled={retire.isPending}
            onClick={() => retire.mutate({ id, readSite: true }, { onError })}
          >
            Ask the site again
          </Button>
        )}
      </div>
      <ul aria-label="Worklist" className="max-h-72 overflow-auto border border-line/70">
        {worklist.map(({ pageId, path, title, because, done, owner, due }) => (
          <li key={pageId} className="flex items-center gap-3 border-b border-line/50 px-2 py-1 last:border-0">
            <span
              role="img"
              aria-label={done ? 'changed' : 'to be changed'}
              className={`size-3 shrink-0 border ${done ? 'border-verdigris bg-verdigris' : 'border-ink'}`}
            />
            <span className="min-w-0 flex-1 truncate">
              <Link
                to={`/sites/${siteId}/pages/${pageId}`}
                className={`hover:underline ${done ? 'text-soft line-through' : 'font-semibold'}`}
              >
                {title}
              </Link>{' '}
              <span className="text-[12.5px] text-soft">
                {path} · {because.join(', ')}
              </span>
            </span>
            <input
              aria-label={`Who changes ${title}`}
              placeholder="who"
              defaultValue={owner}
              onBlur={(event) => event.target.value !== owner && work(pageId, { owner: event.target.value })}
              className="h-7 w-28 border border-line bg-paper px-1.5 text-[13px]"
            />
            <input
              type="date"
              aria-label={`Until when ${title} is changed`}
              defaultValue={due ?? ''}
              onBlur={(event) => event.target.value !== (due ?? '') && work(pageId, { due: event.target.value })}
              className="h-7 w-34 border border-line bg-paper px-1.5 text-[13px]"
            />
          </li>
        ))}
      </ul>
    </div>
  )
}
