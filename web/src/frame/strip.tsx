import { ChevronDown } from 'lucide-react'
import { useSearchParams } from 'react-router'
import type { SampleView, Site, Sweep } from '@unvelt/contract'
import { useLedger, useSweeps } from '../api/queries.js'
import { dateTime, percent, plural } from '../figures/format.js'
import { chooseFile } from '../parts/choose-file.js'
import { Menu, type MenuEntry } from '../parts/menu.js'
import { StaleMark } from '../stale/stale-mark.js'
import { useHarImport } from './har-import.js'
import { PaletteButton } from './palette-button.js'
import { useShowSweep } from './show-sweep.js'
import { SiteMenu } from './site-menu.js'
import { SweepButton } from './sweep-button.js'

/** What is shown, and what it is based on, across the top. */
export function Strip({ site, sites }: { site: Site; sites: Site[] }) {
  return (
    <header className="flex h-12 items-center gap-4 border-b border-line px-4 max-md:h-auto max-md:flex-wrap max-md:gap-y-1 max-md:py-1.5">
      <SiteMenu site={site} sites={sites} />
      <Basis site={site} />
      <StaleMark site={site} />
      <div className="ml-auto flex shrink-0 items-center gap-2">
        <PaletteButton site={site} sites={sites} />
        <SweepButton site={site} />
      </div>
    </header>
  )
}

/** A part of the site, and how much of its visits that is. */
const sampleWords = ({ of, share }: SampleView, pages: number) =>
  `${pages} of ${of} pages${share === null ? '' : `, ${percent(share)} of visits`}`

/** Which sweep the figures come from, under which lens, read how often; and the others to choose from. */
function Basis({ site }: { site: Site }) {
  const [search] = useSearchParams()
  const show = useShowSweep()
  const { data: sweeps = [] } = useSweeps(site.id)
  const { data: ledger } = useLedger(site.id, search.get('sweep'))
  const har = useHarImport(site, show)
  if (!ledger) return null
  if (!ledger.sweep) return <p className="text-soft">No sweep yet</p>
  const takeHar = () => chooseFile('.har,application/json', (file) => har.mutate(file))
  const { id, startedAt, lens, repeats, status, sample, pages, withoutRules } = ledger.sweep
  const state = status === 'done' ? '' : status === 'running' ? ' · still reading' : ` · ${status}`
  const button = (
    <button
      type="button"
      aria-label="Sweep and lens shown"
      className="flex min-w-0 items-center gap-1 text-soft hover:text-ink max-md:order-last max-md:w-full"
    >
      <span className="truncate">
        Sweep {id}, {dateTime(startedAt)} · {lens} · {plural(repeats, 'repeat')}
        {withoutRules && ' · rules set aside'}
        {sample && ` · ${sampleWords(sample, pages)}`}
        {state}
      </span>
      <ChevronDown size={15} aria-hidden className="shrink-0 text-verdigris" />
    </button>
  )
  const entries: MenuEntry[] = sweeps.filter(hasFigures).map((sweep) => ({
    value: String(sweep.id),
    name: `Sweep ${sweep.id} · ${sweep.lens}`,
    note: sweepNote(sweep),
  }))
  entries.push(
    { line: true },
    { saves: `/api/sweeps/${id}/har`, name: `Save sweep ${id} as a HAR file`, isAct: true },
    { does: takeHar, name: 'Take a HAR file in …', isAct: true },
  )
  return (
    <Menu button={button} align="start" entries={entries} value={String(id)} onValue={(value) => show(Number(value))} />
  )
}

const hasFigures = (sweep: Sweep) =>
  (sweep.purpose === 'survey' || sweep.purpose === 'import') && sweep.readings > sweep.readingsFailed

const sweepNote = ({ startedAt, sample, pages, repeats, withoutRules, takenOver, status }: Sweep) =>
  [
    dateTime(startedAt),
    sample ? sampleWords(sample, pages) : plural(pages, 'page'),
    plural(repeats, 'repeat'),
    withoutRules && 'rules set aside',
    takenOver && `${takenOver.pages} of them from sweep ${takenOver.sweepId}`,
    (status === 'cancelled' || status === 'paused') && status,
  ]
    .filter(Boolean)
    .join(', ')
