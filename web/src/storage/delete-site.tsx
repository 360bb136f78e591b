import { useState } from 'react'
import type { Site } from '@unvelt/contract'
import { Button } from '../parts/button.js'
import { lazily } from '../parts/lazily.js'

const Farewell = lazily(async () => (await import('./farewell.js')).Farewell)

/** Everything that is known of a site goes, once somebody has typed its name. */
export function DeleteSite({ site }: { site: Site }) {
  const [isOpen, setOpen] = useState(false)
  return (
    <div className="mt-4 flex items-end justify-between gap-6">
      <p className="text-soft">The site can be deleted here with everything that is known of it.</p>
      <Button weight="danger" onClick={() => setOpen(true)}>
        Delete {site.name} …
      </Button>
      {isOpen && <Farewell site={site} onClose={() => setOpen(false)} />}
    </div>
  )
}
