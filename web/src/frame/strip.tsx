import { ChevronDown } from 'lucide-react'
import { DropdownMenu } from 'radix-ui'
import { Link, useSearchParams } from 'react-router'
import type { Site } from '@unvelt/contract'
import { useLedger } from '../api/queries.js'
import { dateTime, plural } from '../figures/format.js'
import { Palette } from './palette.js'
import { SweepButton } from './sweep-button.js'

/** What is shown, and what it is based on, across the top. */
export function Strip({ site, sites }: { site: Site; sites: Site[] }) {
  return (
    <header className="flex h-12 items-center gap-4 border-b border-line px-4">
      <SiteMenu site={site} sites={sites} />
      <Basis site={site} />
      <div className="ml-auto flex items-center gap-2">
        <Palette site={site} sites={sites} />
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

/** Which sweep the figures come from, under which lens, read how often. */
function Basis({ site }: { site: Site }) {
  const [search] = useSearchParams()
  const { data: ledger } = useLedger(site.id, search.get('sweep'))
  if (!ledger) return null
  if (!ledger.sweep) return <p className="text-soft">No sweep yet</p>
  const { id, startedAt, lens, repeats, status } = ledger.sweep
  const state = status === 'done' ? '' : status === 'running' ? ' · still reading' : ' · cancelled'
  return (
    <p className="min-w-0 truncate text-soft">
      Sweep {id}, {dateTime(startedAt)} · {lens} · {plural(repeats, 'repeat')}
      {state}
    </p>
  )
}
