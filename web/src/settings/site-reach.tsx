import type { Site } from '@unvelt/contract'
import { useChangeSite } from '../api/queries.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'

/** Whether the site and its pages may reach this machine and private networks. */
export function SiteReach({ site }: { site: Site }) {
  const change = useChangeSite(site.id)
  return (
    <section className="px-4 pt-6" aria-label="Reach">
      <h2 className="text-[17px]">Reach</h2>
      <div className="flex items-end justify-between gap-6">
        <p className="text-soft">
          {site.local
            ? 'The site is local: it and its pages may reach this machine and private networks.'
            : 'The site and its pages reach public addresses only; this machine and private networks are closed to them.'}
        </p>
        <Button
          disabled={change.isPending}
          onClick={() =>
            change.mutate({ local: !site.local }, { onError: (error: Error) => toast.error(error.message) })
          }
        >
          {site.local ? 'Close private addresses' : 'Mark as local'}
        </Button>
      </div>
    </section>
  )
}
