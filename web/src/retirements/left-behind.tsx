import { useNavigate } from 'react-router'
import type { LeftoverView, Retirement } from '@unvelt/contract'
import { useLeftovers, useRetire } from '../api/retirements.js'
import { bytes, plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'
import { LastTouched } from './last-touched.js'

/** What is left at the site of add-ons that went, by whose it was, the largest first. */
export function LeftBehind({ siteId, open }: { siteId: number; open: Retirement[] }) {
  const { data, isPending, isError, error, refetch } = useLeftovers(siteId)
  const retire = useRetire(siteId)
  const navigate = useNavigate()
  const begin = (slug: string) =>
    retire.mutate(
      { open: slug },
      {
        onSuccess: ({ id }) => void navigate(`/sites/${siteId}/retirements/${id}`),
        onError: (failure) => toast.error(failure.message),
      },
    )
  const byOwner = new Map<string, LeftoverView[]>()
  for (const one of data?.leftovers ?? []) byOwner.set(one.of, [...(byOwner.get(one.of) ?? []), one])
  const owners = [...byOwner]
    .map(([of, things]) => ({ of, things, size: things.reduce((sum, one) => sum + one.bytes, 0) }))
    .filter(({ of }) => !open.some(({ slug, name }) => slug === of || name === of))
    .sort((a, b) => b.size - a.size)
  return (
    <section aria-label="Left behind" className="border-t border-line pb-3">
      <h2 className="px-4 pt-4 text-[17px]">Left behind by what went</h2>
      <p className="px-4 pb-1 text-[13px] text-soft">
        Tables, settings, tasks and blocks in pages of add-ons that the site does not have any more.
      </p>
      {isPending && <p className="px-4 py-2 text-soft">Asking the site …</p>}
      {isError && (
        <p className="px-4 py-2 text-plum">
          {error.message}{' '}
          <Button weight="quiet" onClick={() => void refetch()}>
            Ask again
          </Button>
        </p>
      )}
      {data && owners.length === 0 && <p className="px-4 py-2">Nothing is left that nobody has taken up.</p>}
      <ul>
        {owners.map(({ of, things, size }) => (
          <li key={of} className="flex items-center gap-4 border-t border-line/60 px-4 py-1.5">
            <span className="w-44 shrink-0 truncate font-semibold">{of}</span>
            <span className="min-w-0 flex-1 text-soft">{thingsWords(things)}</span>
            <LastTouched one={newestOf(things)} />
            <span className="figures w-20 text-right">{bytes(size)}</span>
            <Button disabled={retire.isPending} aria-label={`Clear away what ${of} left`} onClick={() => begin(of)}>
              Clear away …
            </Button>
          </li>
        ))}
      </ul>
    </section>
  )
}

/** The newest traces of all of them; one to be looked at first is enough. */
function newestOf(things: LeftoverView[]): Pick<LeftoverView, 'lastWritten' | 'lastRead' | 'sureness'> {
  const newest = (of: 'lastWritten' | 'lastRead') =>
    things.map((one) => one[of] ?? '').reduce((a, b) => (a > b ? a : b)) || null
  return {
    lastWritten: newest('lastWritten'),
    lastRead: newest('lastRead'),
    sureness: things.some(({ sureness }) => sureness === 'look first') ? 'look first' : 'likely',
  }
}

function thingsWords(things: LeftoverView[]): string {
  const of = (type: string) => things.filter((one) => one.type === type)
  const rows = of('table').reduce((sum, one) => sum + (one.rows ?? 0), 0)
  return [
    of('table').length > 0 && `${plural(of('table').length, 'table')} with ${plural(rows, 'row')}`,
    of('option').length > 0 && plural(of('option').length, 'setting'),
    of('task').length > 0 && plural(of('task').length, 'scheduled task'),
    of('file').length > 0 && plural(of('file').length, 'file'),
    of('tag').length > 0 && plural(of('tag').length, 'tag'),
    of('block').length > 0 && `${plural(of('block').length, 'block')} that nobody draws`,
  ]
    .filter(Boolean)
    .join(', ')
}
