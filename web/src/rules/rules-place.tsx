import { useMemo } from 'react'
import { Link } from 'react-router'
import type { LiveRules, RuleVersion, Site } from '@unvelt/contract'
import { useApplyRules, useDeployments, useUnderWay } from '../api/deployments.js'
import { useDrafts, useLiveRules, useSweeps } from '../api/queries.js'
import { dateTime, plural } from '../figures/format.js'
import { useSite } from '../frame/site-context.js'
import { Button } from '../parts/button.js'
import { Failed, Loading } from '../parts/notice.js'
import { PlaceHead } from '../parts/place-head.js'
import { PageSetsPart } from '../page-sets/page-sets-part.js'
import { toast } from '../parts/toast.js'
import { RehearsalsList } from '../rehearsal/rehearsals-list.js'
import { VerifyPart } from '../verify/verify-part.js'
import { AtSiteNotice } from './at-site-notice.js'
import { Findings } from './findings.js'
import { CopiesPart } from './copies-part.js'
import { ChangesList } from './changes-list.js'
import { PageRules } from './page-rules.js'
import { SetAside } from './set-aside.js'
import { RuleBook } from './rule-book.js'
import { asLive, draftsBack, ruleRows } from './rule-rows.js'
import { useDraft } from './use-draft.js'
import { VersionChanges } from './version-changes.js'

/** What is live at the site, and every version that was. */
export function RulesPlace() {
  const site = useSite()
  const rules = useLiveRules(site.id)
  if (rules.isPending) return <Loading what="the rules" />
  if (rules.isError) return <Failed error={rules.error} retry={() => void rules.refetch()} />
  return <Rules site={site} live={rules.data} />
}

function Rules({ site, live: { version, versions } }: { site: Site; live: LiveRules }) {
  const { data: drafts, isPending, isError, error, refetch } = useDrafts(site.id)
  const live = versions[0]?.rules
  const rows = useMemo(() => ruleRows(live ?? [], drafts?.rules ?? []), [live, drafts])
  return (
    <div className="h-full overflow-auto">
      <PlaceHead title="Rules">
        {versions.length === 0
          ? 'No rule has been put live yet. '
          : `Version ${version} is live with ${plural(live!.length, 'rule')}. `}
        {drafts && drafts.rules.length > 0 && `${plural(drafts.rules.length, 'draft')} would change that.`}
      </PlaceHead>
      <AtSiteNotice site={site} />
      <Findings siteId={site.id} />
      {isPending && <Loading what="the drafts" />}
      {isError && <Failed error={error} retry={() => void refetch()} />}
      {drafts && <RuleBook site={site} rows={rows} />}
      {!site.hasConnector && rows.length > 0 && <VerifyPart site={site} />}
      {drafts && <SetAside siteId={site.id} aside={drafts.aside} />}
      {rows.length > 0 && <PageRules site={site} rules={asLive(rows)} />}
      <PageSetsPart siteId={site.id} />
      {site.hasConnector && <CopiesPart siteId={site.id} rules={asLive(rows)} />}
      <RehearsalsList siteId={site.id} />
      {versions.length > 0 && (
        <>
          <h2 className="px-4 pt-6 pb-2 text-[17px]">Versions</h2>
          <ol aria-label="Versions">
            {versions.map((entry, index) => (
              <Version key={entry.version} site={site} entry={entry} versions={versions} live={index === 0} />
            ))}
          </ol>
        </>
      )}
      <ChangesList siteId={site.id} />
    </div>
  )
}

interface VersionProps {
  site: Site
  entry: RuleVersion
  versions: RuleVersion[]
  live: boolean
}

function Version({ site, entry, versions, live }: VersionProps) {
  const siteId = site.id
  const draft = useDraft(siteId)
  const apply = useApplyRules(siteId)
  const { data: sweeps = [] } = useSweeps(siteId)
  const sweeping = sweeps.some((sweep) => sweep.status === 'running')
  const underWay = useUnderWay(siteId)
  const { data: changes = [] } = useDeployments(siteId)
  // What went live in parts has a version for each part, and goes as one.
  const change = changes.find(({ toVersion }) => toVersion === entry.version)
  const back = change?.fromVersion ?? versions[versions.indexOf(entry) + 1]?.version ?? 0
  const goingBack = draftsBack(versions[0]!.rules, live ? (versions[1]?.rules ?? []) : entry.rules)
  const takeBack = () =>
    apply.mutate(
      { backTo: live ? back : entry.version, live: versions[0]!.version },
      { onError: (error) => toast.error('Nothing was taken back', { description: error.message }) },
    )
  return (
    <li className="flex items-center gap-4 border-t border-line/60 px-4 py-2">
      <span className="figures w-8 font-serif text-[17px] font-semibold">{entry.version}</span>
      <span className="min-w-0 flex-1">
        {entry.what}
        <span className="block text-[12.5px] text-soft">
          {dateTime(entry.putAt)} · {plural(entry.rules.length, 'rule')}
          {live && ' · live'}
        </span>
        <VersionChanges entry={entry} versions={versions} />
      </span>
      {entry.proofId !== null && (
        <Link to={`/sites/${siteId}/proof/${entry.proofId}`} className="text-verdigris hover:underline">
          Before and after
        </Link>
      )}
      {site.hasConnector ? (
        <Button disabled={apply.isPending || sweeping || underWay !== undefined} onClick={takeBack}>
          {live ? 'Take back' : 'Go back to this'}
        </Button>
      ) : (
        // Whoever carries the rules out there takes them back, too.
        <Button disabled={draft.isPending || goingBack.length === 0} onClick={() => draft.add(goingBack)}>
          {live ? 'Draft its going' : 'Draft going back to this'}
        </Button>
      )}
    </li>
  )
}
