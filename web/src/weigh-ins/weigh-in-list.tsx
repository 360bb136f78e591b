import { Link } from 'react-router'
import type { WeighInSummary } from '@unvelt/contract'
import { bytes, count, dateTime, signed } from '../figures/format.js'

/** Weigh-ins in short, each variant beside the first. */
export function WeighInList({ siteId, list }: { siteId: number; list: readonly WeighInSummary[] }) {
  return (
    <ul aria-label="Weigh-ins">
      {list.map((each) => (
        <li key={each.id} className="border-b border-line/60">
          <Link to={`/sites/${siteId}/weigh-ins/${each.id}`} className="block px-4 py-2 hover:bg-sheet">
            <span className="flex items-baseline gap-4">
              <span className="min-w-0 truncate font-semibold text-verdigris">{each.title}</span>
              <span className="ml-auto whitespace-nowrap text-soft">
                {each.siteId !== siteId && `${each.siteName} · `}
                {each.status === 'running' ? 'being read' : each.status === 'done' ? '' : `${each.status} · `}
                {each.status !== 'running' && dateTime(each.createdAt)}
              </span>
            </span>
            <span className="figures flex flex-wrap gap-x-6 text-[13px] text-soft">
              {each.variants.slice(1).map(({ name }, n) => (
                <span key={name}>
                  {name}: <Cost of={each} variant={n + 1} />
                </span>
              ))}
            </span>
          </Link>
        </li>
      ))}
    </ul>
  )
}

function Cost({ of: { costs }, variant }: { of: WeighInSummary; variant: number }) {
  const [first, own] = [costs[0]!, costs[variant]!]
  if (first.requests === null || own.requests === null) return <>not read yet</>
  const requests = own.requests - first.requests
  const transfer = own.transferBytes! - first.transferBytes!
  if (requests === 0 && transfer === 0) return <>as many requests and bytes</>
  return (
    <span className={transfer > 0 ? 'text-plum' : 'text-verdigris'}>
      {signed(requests, (value) => `${count(value)} requests`)}, {signed(transfer, bytes)}
    </span>
  )
}
