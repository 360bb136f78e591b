import { useState } from 'react'
import type { Place } from '@unvelt/contract'
import { plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { lazily } from '../parts/lazily.js'

/** The ledger is heavy enough. */
const PageSetWindow = lazily(async () => (await import('./page-set-window.js')).PageSetWindow)

/** Listed pages get a name together, or say the one that they have. */
export function NamePages({ siteId, place }: { siteId: number; place: Place | undefined }) {
  const [isOpen, setOpen] = useState(false)
  if (place?.level !== 'set') return null
  if (place.name !== undefined)
    return (
      <p className="mt-3 text-[13px] text-soft">
        These pages are called <b className="font-semibold text-ink">{place.name}</b>.
      </p>
    )
  return (
    <>
      <Button weight="quiet" className="mt-2 h-7 px-0" onClick={() => setOpen(true)}>
        Name these {plural(place.paths.length, 'page')} …
      </Button>
      {isOpen && <PageSetWindow siteId={siteId} set={null} paths={place.paths} onClose={() => setOpen(false)} />}
    </>
  )
}
