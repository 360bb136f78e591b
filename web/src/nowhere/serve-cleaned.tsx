import { useState } from 'react'
import type { MadeCopyView, NowhereFile, Site } from '@unvelt/contract'
import { useMakeCopy } from '../api/nowhere.js'
import { useDrafts, useLiveRules } from '../api/queries.js'
import { plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { lazily } from '../parts/lazily.js'
import { toast } from '../parts/toast.js'
import { asLive, ruleRows } from '../rules/rule-rows.js'
import type { About } from '../rules/rule-values.js'

const RuleForm = lazily(async () => (await import('../rules/rule-form.js')).RuleForm)

/** Drafts a rule by which the site serves the cleaned file in the place of its own. */
export function ServeCleaned({ site, file }: { site: Site; file: NowhereFile }) {
  const make = useMakeCopy(site.id)
  const live = useLiveRules(site.id)
  const drafts = useDrafts(site.id)
  const [made, setMade] = useState<MadeCopyView | null>(null)
  const rules = asLive(ruleRows(live.data?.versions[0]?.rules ?? [], drafts.data?.rules ?? []))
  return (
    <>
      <Button
        weight="main"
        disabled={make.isPending || !live.data || !drafts.data}
        onClick={() => make.mutate(file.n, { onSuccess: setMade, onError: (error) => toast.error(error.message) })}
      >
        Serve it in its place …
      </Button>
      {made && <RuleForm site={site} rule={null} about={aboutOf(made)} rules={rules} onClose={() => setMade(null)} />}
    </>
  )
}

const aboutOf = ({ addon, file, content, from, leftOut, sweepId }: MadeCopyView): About => ({
  addon,
  part: `file ${file}`,
  effect: 'local',
  content,
  from,
  note: `Without ${plural(leftOut, 'rule')} that nothing had used by sweep ${sweepId}.`,
})
