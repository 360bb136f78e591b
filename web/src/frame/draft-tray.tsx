import type { Site } from '@unvelt/contract'
import { useDrafts } from '../api/queries.js'
import { lazily } from '../parts/lazily.js'

const OpenDraftTray = lazily(async () => (await import('./open-draft-tray.js')).OpenDraftTray)

/** Rises from the bottom as soon as there is a draft. */
export function DraftTray({ site }: { site: Site }) {
  const { data: drafts } = useDrafts(site.id)
  if (!drafts || drafts.rules.length === 0) return null
  return <OpenDraftTray site={site} />
}
