import { useSearchParams } from 'react-router'
import type { Outside, Site } from '@unvelt/contract'
import { useOutside } from '../api/queries.js'
import { ConsentPart } from '../consent/consent-part.js'
import { bytes, count, percent, plural } from '../figures/format.js'
import { useSite } from '../frame/site-context.js'
import { Failed, Loading, Notice } from '../parts/notice.js'
import { PlaceHead } from '../parts/place-head.js'
import { FaceTable } from './face-table.js'
import { PayerTable } from './payer-table.js'
import { RedirectChains } from './redirect-chains.js'

/** Other companies' hosts: what comes from them, for whom, and who brought them in. */
export function OutsidePlace() {
  const site = useSite()
  const [search] = useSearchParams()
  const outside = useOutside(site.id, search.get('sweep'))
  if (outside.isError) return <Failed error={outside.error} retry={() => void outside.refetch()} />
  if (!outside.data) return <Loading what="what comes from outside" />
  if (outside.data.sweepId === null)
    return <Notice title="Nothing has been read yet">Sweep the site first; then its outsiders stand here.</Notice>
  return <Filled site={site} outside={outside.data} />
}

function Filled({ site, outside }: { site: Site; outside: Outside }) {
  const sum = (figure: 'requests' | 'transferBytes') => outside.payers.reduce((all, payer) => all + payer[figure], 0)
  const hosts = new Set(outside.payers.flatMap((payer) => payer.hosts.map((host) => host.host))).size
  const transfer = sum('transferBytes') + outside.ownTransferBytes
  const requests = sum('requests') + outside.ownRequests
  return (
    <div role="region" aria-label="Outside" tabIndex={0} className="h-full overflow-auto pb-8">
      <PlaceHead title="Outside">
        {outside.payers.length === 0
          ? 'Nothing on the pages read comes from another company’s host.'
          : `${plural(hosts, 'host')} of other companies serve ${percent(sum('requests') / requests)} of the requests and ${percent(sum('transferBytes') / transfer)} of the bytes.`}{' '}
        Sweep {outside.sweepId}, {outside.lens}, one reading of each of {plural(outside.pages, 'page')}.
      </PlaceHead>
      <section aria-label="Own against outside" className="px-4 py-3">
        {transfer > 0 && (
          <div aria-hidden className="flex h-3 max-w-[900px] border border-line">
            <span style={{ width: `${(outside.ownTransferBytes / transfer) * 100}%`, background: 'var(--ramp-1)' }} />
            <span style={{ width: `${(sum('transferBytes') / transfer) * 100}%`, background: 'var(--ramp-3)' }} />
          </div>
        )}
        <p className="figures mt-1.5 text-[12.5px] text-soft">
          Own hosts: {count(outside.ownRequests)} requests, {bytes(outside.ownTransferBytes)}. Outside:{' '}
          {count(sum('requests'))} requests, {bytes(sum('transferBytes'))}.
        </p>
      </section>
      {outside.payers.length > 0 && <PayerTable payers={outside.payers} pages={outside.pages} />}
      <RedirectChains chains={outside.chains} />
      <FaceTable faces={outside.faces} />
      <ConsentPart site={site} />
    </div>
  )
}
