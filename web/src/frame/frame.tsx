import { Navigate, Outlet, useParams } from 'react-router'
import { useFollowSite } from '../api/follow-site.js'
import { useSites } from '../api/queries.js'
import { Failed, Loading, Notice } from '../parts/notice.js'
import { DeploymentBar } from '../rules/deployment-bar.js'
import { useSayRehearsalEnded } from '../rehearsal/rehearsal-ended.js'
import { useSayDeploymentEnded } from '../rules/deployment-ended.js'
import { DraftTray } from './draft-tray.js'
import { useFootHeight } from './use-foot-height.js'
import { useUndoKey } from '../undo/undo.js'
import { Rail } from './rail.js'
import { SweepTrouble } from './sweep-trouble.js'
import { useSaySweepEnded } from './sweep-ended.js'
import { Strip } from './strip.js'
import type { Site } from '@unvelt/contract'

/** Rail, strip and draft tray around every place of a site. */
export function Frame() {
  const { site: id } = useParams()
  const sites = useSites()
  if (sites.isPending) return <Loading what="the site" />
  if (sites.isError) return <Failed error={sites.error} retry={() => void sites.refetch()} />
  if (sites.data.length === 0) return <Navigate to="/sites/new" replace />
  const site = sites.data.find((s) => String(s.id) === id)
  if (!site) return <Notice title="There is no such site here">It may have been removed.</Notice>
  return <FrameOf key={site.id} site={site} sites={sites.data} />
}

function FrameOf({ site, sites }: { site: Site; sites: Site[] }) {
  useFollowSite(site.id, {
    sweep: useSaySweepEnded(),
    deployment: useSayDeploymentEnded(),
    rehearsal: useSayRehearsalEnded(),
  })
  useUndoKey()
  const foot = useFootHeight()
  return (
    <div className="grid h-dvh grid-cols-[auto_minmax(0,1fr)] grid-rows-[auto_minmax(0,1fr)_auto] max-md:grid-cols-[minmax(0,1fr)] max-md:grid-rows-[auto_minmax(0,1fr)_auto_auto]">
      <Rail site={site} />
      <Strip site={site} sites={sites} />
      <main className="min-h-0 overflow-hidden">
        <Outlet context={site} />
      </main>
      <div ref={foot} className="min-w-0">
        <SweepTrouble site={site} />
        <DeploymentBar site={site} />
        <DraftTray site={site} />
      </div>
    </div>
  )
}
