import { ChevronDown } from 'lucide-react'
import { DropdownMenu } from 'radix-ui'
import { Link, useSearchParams } from 'react-router'
import type { SampleView, Site } from '@unvelt/contract'
import { useLedger, useSweeps } from '../api/queries.js'
import { dateTime, percent, plural } from '../figures/format.js'
import { chooseFile } from '../parts/choose-file.js'
import { StaleMark } from '../stale/stale-mark.js'
import { useHarImport } from './har-import.js'
import { PaletteButton } from './palette-button.js'
import { useShowSweep } from './show-sweep.js'
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

function SiteMenu({ site, sites }: { site: Site; sites: Site[] }) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="flex items-center gap-1 font-serif text-[16px] font-semibold whitespace-nowrap">
        {site.name} <ChevronDown size={15} aria-hidden className="text-verdigris" />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="start" sideOffset={6} className="z-20 min-w-64 border border-line bg-sheet py-1">
          {sites.map((other) => (
            <DropdownMenu.Item key={other.id} asChild>
              <Link
                to={`/sites/${other.id}/ledger`}
                className="block px-3 py-1.5 outline-none data-highlighted:bg-wash"
              >
                <span className="font-medium">{other.name}</span>
                <span className="block text-[12.5px] text-soft">{other.address}</span>
              </Link>
            </DropdownMenu.Item>
          ))}
          <DropdownMenu.Separator className="my-1 border-t border-line" />
          <DropdownMenu.Item asChild>
            <Link to="/sites/new" className="block px-3 py-1.5 text-verdigris outline-none data-highlighted:bg-wash">
              Register another site …
            </Link>
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
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
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
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
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="start"
          sideOffset={6}
          className="z-20 max-h-96 overflow-auto border border-line bg-sheet py-1"
        >
          <DropdownMenu.RadioGroup value={String(id)} onValueChange={(value) => show(Number(value))}>
            {sweeps
              .filter(
                (sweep) =>
                  (sweep.purpose === 'survey' || sweep.purpose === 'import') && sweep.readings > sweep.readingsFailed,
              )
              .map((sweep) => (
                <DropdownMenu.RadioItem
                  key={sweep.id}
                  value={String(sweep.id)}
                  className="cursor-pointer px-3 py-1.5 outline-none data-highlighted:bg-wash data-[state=checked]:font-semibold"
                >
                  Sweep {sweep.id} · {sweep.lens}
                  <span className="figures block text-[12.5px] font-normal text-soft">
                    {dateTime(sweep.startedAt)},{' '}
                    {sweep.sample ? sampleWords(sweep.sample, sweep.pages) : plural(sweep.pages, 'page')},{' '}
                    {plural(sweep.repeats, 'repeat')}
                    {sweep.withoutRules && ', rules set aside'}
                    {sweep.takenOver && `, ${sweep.takenOver.pages} of them from sweep ${sweep.takenOver.sweepId}`}
                    {(sweep.status === 'cancelled' || sweep.status === 'paused') && `, ${sweep.status}`}
                  </span>
                </DropdownMenu.RadioItem>
              ))}
          </DropdownMenu.RadioGroup>
          <DropdownMenu.Separator className="my-1 border-t border-line" />
          <DropdownMenu.Item asChild>
            <a
              href={`/api/sweeps/${id}/har`}
              download
              className="block px-3 py-1.5 text-verdigris outline-none data-highlighted:bg-wash"
            >
              Save sweep {id} as a HAR file
            </a>
          </DropdownMenu.Item>
          <DropdownMenu.Item
            onSelect={takeHar}
            className="cursor-pointer px-3 py-1.5 text-verdigris outline-none data-highlighted:bg-wash"
          >
            Take a HAR file in …
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}
