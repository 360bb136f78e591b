import { useLenses, usePatterns } from '../api/queries.js'
import { CopyPart } from '../copies/copy-part.js'
import { LensList } from '../lenses/lens-list.js'
import { useSite } from '../frame/site-context.js'
import { PatternList } from '../patterns/pattern-list.js'
import { useStepIdeas, useSteps } from '../steps/queries.js'
import { StepList } from '../steps/step-list.js'
import { LeastDifference } from './least-difference.js'
import { NetSetting } from './net-setting.js'
import { QuietSetting } from './quiet-setting.js'
import { SiteAccess } from './site-access.js'
import { SiteReach } from './site-reach.js'
import { SpanTarget } from './span-target.js'
import { StoragePart } from '../storage/storage-part.js'
import { Loading } from '../parts/notice.js'
import { PlaceHead } from '../parts/place-head.js'

/** How the site is looked at. */
export function SettingsPlace() {
  const site = useSite()
  // All stands at once, so that what is about to be pressed is not moved away by what comes above it.
  const parts = [useLenses(site.id), useSteps(site.id), useStepIdeas(site.id), usePatterns(site.id)]
  if (parts.some(({ isPending }) => isPending)) return <Loading what="the settings" />
  return (
    <div className="h-full overflow-auto pb-10">
      <PlaceHead title="Settings">
        {[site.name, `${site.cms.name} ${site.cms.version}`.trim()].filter(Boolean).join(', ')} at {site.address}.
      </PlaceHead>
      <LensList site={site} />
      <LeastDifference key={site.id} site={site} />
      {site.hasConnector && <NetSetting site={site} />}
      {site.hasConnector && <QuietSetting key={`quiet ${site.id}`} site={site} />}
      <StepList key={`steps ${site.id}`} site={site} />
      <PatternList site={site} />
      <SiteAccess key={`access ${site.id}`} site={site} />
      <SiteReach site={site} />
      <SpanTarget site={site} />
      <CopyPart key={`copy ${site.id}`} site={site} />
      <StoragePart key={`storage ${site.id}`} site={site} />
    </div>
  )
}
