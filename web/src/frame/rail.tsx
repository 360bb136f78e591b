import clsx from 'clsx'
import {
  Archive,
  BookOpenText,
  Compass,
  FileText,
  Globe,
  Moon,
  Puzzle,
  Scale,
  ScrollText,
  Settings2,
  Sun,
  Weight,
} from 'lucide-react'
import { NavLink, useSearchParams } from 'react-router'
import type { Site } from '@unvelt/contract'
import { useLook } from './look.js'

export const PLACES = [
  { to: 'standing', name: 'Standing', icon: Compass },
  { to: 'ledger', name: 'Ledger', icon: BookOpenText },
  { to: 'add-ons', name: 'Add-ons', icon: Puzzle },
  { to: 'pages', name: 'Pages', icon: FileText },
  { to: 'outside', name: 'Outside', icon: Globe },
  { to: 'rules', name: 'Rules', icon: ScrollText },
  { to: 'weigh-ins', name: 'Weigh-ins', icon: Weight },
  { to: 'retirements', name: 'Retirements', icon: Archive },
  { to: 'proof', name: 'Proof', icon: Scale },
  { to: 'settings', name: 'Settings', icon: Settings2 },
]

/** The places of a site, on the left; below, where there is little room. */
export function Rail({ site }: { site: Site }) {
  const [look, changeLook] = useLook()
  // The sweep that is looked at stays the same from place to place.
  const [search] = useSearchParams()
  const sweep = search.get('sweep')
  return (
    <nav
      aria-label="Places"
      className="row-span-3 flex w-[76px] flex-col border-r border-line py-3 max-md:order-last max-md:row-span-1 max-md:w-auto max-md:flex-row max-md:overflow-x-auto max-md:border-t max-md:border-r-0 max-md:py-0"
    >
      <span
        className="mb-4 text-center max-md:hidden font-serif text-[17px] font-semibold tracking-tight"
        aria-label="Unvelt"
      >
        Unvelt
      </span>
      {PLACES.map(({ to, name, icon: Icon }) => (
        <NavLink
          key={to}
          to={{ pathname: `/sites/${site.id}/${to}`, ...(sweep && { search: `?sweep=${sweep}` }) }}
          className={({ isActive, isPending }) =>
            clsx(
              'flex flex-col items-center gap-1 border-l-2 py-2.5 text-[12.5px] max-md:shrink-0 max-md:border-t-2 max-md:border-l-0 max-md:px-3 max-md:py-1.5',
              isActive
                ? 'border-verdigris bg-sheet font-semibold text-ink'
                : isPending
                  ? 'border-verdigris/45 text-ink'
                  : 'border-transparent text-soft hover:text-ink',
            )
          }
        >
          <Icon size={18} strokeWidth={1.6} aria-hidden />
          {name}
        </NavLink>
      ))}
      <button
        type="button"
        onClick={changeLook}
        className="mt-auto flex flex-col items-center gap-1 py-2 text-[12.5px] text-soft hover:text-ink max-md:mt-0 max-md:px-3"
      >
        {look === 'light' ? (
          <Moon size={17} strokeWidth={1.6} aria-hidden />
        ) : (
          <Sun size={17} strokeWidth={1.6} aria-hidden />
        )}
        {look === 'light' ? 'Dark' : 'Light'}
      </button>
    </nav>
  )
}
