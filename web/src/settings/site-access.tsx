import { useState } from 'react'
import type { AccessView, Site } from '@unvelt/contract'
import { useChangeSite } from '../api/queries.js'
import { Button } from '../parts/button.js'
import { lazily } from '../parts/lazily.js'
import { toast } from '../parts/toast.js'

const AccessForm = lazily(async () => (await import('./access-form.js')).AccessForm)

/** By what the site lets Unvelt in where it is closed to the public, as copies are. */
export function SiteAccess({ site }: { site: Site }) {
  const [isOpen, setOpen] = useState(false)
  const change = useChangeSite(site.id)
  const openToAll = () =>
    change.mutate(
      { access: null },
      { onSuccess: () => toast.success('Asked as any visitor asks.'), onError: (error) => toast.error(error.message) },
    )
  return (
    <section className="px-4 pt-6" aria-label="Closed to the public">
      <h2 className="text-[17px]">Closed to the public</h2>
      <div className="flex items-end justify-between gap-6 max-md:flex-wrap">
        <p className="text-soft">{accessWords(site.access)}</p>
        {!isOpen && (
          <div className="flex shrink-0 gap-2">
            {site.access && (
              <Button weight="quiet" disabled={change.isPending} onClick={openToAll}>
                Do without
              </Button>
            )}
            <Button onClick={() => setOpen(true)}>{site.access ? 'Change …' : 'Enter a name and password …'}</Button>
          </div>
        )}
      </div>
      {isOpen && <AccessForm site={site} onDone={() => setOpen(false)} />}
    </section>
  )
}

function accessWords(access: AccessView | null): string {
  if (!access)
    return 'The site is asked as any visitor asks. A copy behind a password needs a name, or a header of its own.'
  const { user, headers } = access
  const by = [
    user && `as ${user}`,
    headers.length > 0 && `with the ${headers.length === 1 ? 'header' : 'headers'} ${headers.join(', ')}`,
  ]
  return `Unvelt goes in ${by.filter(Boolean).join(' and ')}. The site’s own hosts get that, and nobody else.`
}
