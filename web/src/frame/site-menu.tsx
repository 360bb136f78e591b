import clsx from 'clsx'
import { ChevronDown } from 'lucide-react'
import type { Site } from '@unvelt/contract'
import { Menu, type MenuEntry } from '../parts/menu.js'

/** Which site is shown, with what is to be known of all its figures, and the others. */
export function SiteMenu({ site, sites }: { site: Site; sites: Site[] }) {
  const besides = besidesOf(site)
  const button = (
    <button type="button" className="flex items-center gap-1 font-serif text-[16px] font-semibold whitespace-nowrap">
      {site.name}{' '}
      {besides && (
        <span className="font-sans text-[12.5px] font-normal text-soft" title={whyBesides(site)}>
          {besides}
        </span>
      )}
      <ChevronDown size={15} aria-hidden className="text-verdigris" />
    </button>
  )
  const entries: MenuEntry[] = withCopies(sites).map(({ id, name, address, copyOf }) => ({
    to: `/sites/${id}/ledger`,
    name: <span className={clsx('font-medium', copyOf !== null && 'ml-4')}>{name}</span>,
    note: <span className={clsx(copyOf !== null && 'ml-4')}>{copyOf === null ? address : `copy at ${address}`}</span>,
  }))
  entries.push({ line: true }, { to: '/sites/new', name: 'Register another site …', isAct: true })
  return <Menu button={button} align="start" className="min-w-64" entries={entries} />
}

/** Each site with its copies behind it. */
const withCopies = (sites: Site[]) =>
  sites
    .filter(({ copyOf }) => copyOf === null)
    .flatMap((site) => [site, ...sites.filter(({ copyOf }) => copyOf === site.id)])

const besidesOf = ({ copyOf, certificate, hosts }: Site) =>
  [copyOf !== null && 'copy', certificate && 'own certificate', hosts.length > 0 && 'names mapped']
    .filter(Boolean)
    .join(', ')

const whyBesides = ({ certificate, hosts }: Site) =>
  [
    certificate && 'Its certificate was taken by hand; no visitor’s browser would take it.',
    hosts.length > 0 && `${hosts.map(({ host, address }) => `${host} leads to ${address}`).join(', ')}.`,
  ]
    .filter(Boolean)
    .join(' ')
