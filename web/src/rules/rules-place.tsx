import { Link } from 'react-router'
import { toast } from 'sonner'
import type { RuleVersion, RuleView } from '@unvelt/contract'
import { useApplyRules, useUnderWay } from '../api/deployments.js'
import { useLiveRules, useSweeps } from '../api/queries.js'
import { dateTime, plural } from '../figures/format.js'
import { useSite } from '../frame/site-context.js'
import { Button } from '../parts/button.js'
import { Failed, Loading, Notice } from '../parts/notice.js'
import { PlaceHead } from '../parts/place-head.js'
import { RehearsalsList } from '../rehearsal/rehearsals-list.js'
import { AtSiteNotice } from './at-site-notice.js'
import { Findings } from './findings.js'
import { ChangesList } from './changes-list.js'
import { conditionWords, effectWords, placeWords, subjectWords } from './words.js'

/** What is live at the site, and every version that was. */
export function RulesPlace() {
  const site = useSite()
  const rules = useLiveRules(site.id)
  if (rules.isPending) return <Loading what="the rules" />
  if (rules.isError) return <Failed error={rules.error} retry={() => void rules.refetch()} />
  const { version, versions } = rules.data
  const current = versions[0]
  if (!current)
    return (
      <div className="h-full overflow-auto">
        <AtSiteNotice site={site} />
        <Findings siteId={site.id} />
        <Notice title="No rule has been put live">
          Select cells in the{' '}
          <Link to={`/sites/${site.id}/ledger`} className="text-verdigris underline underline-offset-2">
            ledger
          </Link>
          , leave something out, and put the drafts live. What is live then stands here and can be taken back.
        </Notice>
        <RehearsalsList siteId={site.id} />
        <ChangesList siteId={site.id} />
      </div>
    )
  return (
    <div className="h-full overflow-auto">
      <PlaceHead title="Rules">
        Version {version} is live with {plural(current.rules.length, 'rule')}.
      </PlaceHead>
      <AtSiteNotice site={site} />
      <Findings siteId={site.id} />
      <h2 className="px-4 pt-4 pb-2 text-[17px]">Live</h2>
      <RuleTable rules={current.rules} />
      <RehearsalsList siteId={site.id} />
      <h2 className="px-4 pt-6 pb-2 text-[17px]">Versions</h2>
      <ol>
        {versions.map((entry, index) => (
          <Version key={entry.version} siteId={site.id} entry={entry} before={versions[index + 1]} live={index === 0} />
        ))}
      </ol>
      <ChangesList siteId={site.id} />
    </div>
  )
}

function RuleTable({ rules }: { rules: RuleView[] }) {
  if (rules.length === 0) return <p className="px-4 py-3 text-soft">Nothing is unloaded anywhere.</p>
  return (
    <table aria-label="Live rules" className="w-full border-t border-line/60">
      <tbody>
        {rules.map((rule) => (
          <tr key={rule.id} className="border-b border-line/60">
            <td className="py-1.5 pl-4 font-semibold">{subjectWords(rule)}</td>
            <td>{effectWords(rule)}</td>
            <td className="pr-4 text-soft">
              {[placeWords(rule.place), conditionWords(rule)].filter(Boolean).join(', ')}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

interface VersionProps {
  siteId: number
  entry: RuleVersion
  before: RuleVersion | undefined
  live: boolean
}

function Version({ siteId, entry, before, live }: VersionProps) {
  const apply = useApplyRules(siteId)
  const { data: sweeps = [] } = useSweeps(siteId)
  const sweeping = sweeps.some((sweep) => sweep.status === 'running')
  const underWay = useUnderWay(siteId)
  const back = before?.version ?? 0
  const takeBack = () =>
    apply.mutate(
      { backTo: live ? back : entry.version },
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
      </span>
      {entry.proofId !== null && (
        <Link to={`/sites/${siteId}/proof/${entry.proofId}`} className="text-verdigris hover:underline">
          Before and after
        </Link>
      )}
      <Button disabled={apply.isPending || sweeping || underWay !== undefined} onClick={takeBack}>
        {live ? 'Take back' : 'Go back to this'}
      </Button>
    </li>
  )
}
