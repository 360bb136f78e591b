import { useState } from 'react'
import type { Site } from '@unvelt/contract'
import { Button } from '../parts/button.js'
import { lazily } from '../parts/lazily.js'

const HostsForm = lazily(async () => (await import('./hosts-form.js')).HostsForm)

/** Where names lead for this site alone. */
export function HostsPart({ site }: { site: Site }) {
  const [isOpen, setOpen] = useState(false)
  return (
    <div className="mt-3">
      <div className="flex items-end justify-between gap-6 max-md:flex-wrap">
        <p className="text-soft">
          {site.hosts.length === 0
            ? 'Names lead where DNS says. For a copy that no DNS knows of, they can be led elsewhere.'
            : `For this site ${site.hosts.map(({ host, address }) => `${host} leads to ${address}`).join(', ')}, whatever DNS says.`}
        </p>
        {!isOpen && (
          <Button onClick={() => setOpen(true)}>{site.hosts.length > 0 ? 'Change …' : 'Lead names elsewhere …'}</Button>
        )}
      </div>
      {isOpen && <HostsForm site={site} onDone={() => setOpen(false)} />}
    </div>
  )
}
