import type { RuleView } from '@unvelt/contract'
import { plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { inputOf } from '../rules/rule-rows.js'
import { useDraft } from '../rules/use-draft.js'

/** Live rules about what is gone: they match nothing any more, and go by a draft as all rules do. */
export function RulesAboutIt({ siteId, rules }: { siteId: number; rules: RuleView[] }) {
  const draft = useDraft(siteId)
  if (rules.length === 0) return null
  const many = rules.length > 1
  return (
    <p className="mt-1.5 flex flex-wrap items-center gap-2 text-[13.5px]">
      {plural(rules.length, 'live rule')} {many ? 'are' : 'is'} about it still.
      <Button weight="quiet" onClick={() => void draft.add(rules.map((rule) => ({ ...inputOf(rule), removed: true })))}>
        Draft that {many ? 'they go' : 'it goes'}
      </Button>
    </p>
  )
}
