import { Link } from 'react-router'
import { particularsOf, type RuleFinding, type RuleInput, type RuleView } from '@unvelt/contract'
import { useChangeDrafts, useFindings } from '../api/queries.js'
import { plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'
import { findingWords } from './finding-words.js'
import { inputOf } from './rule-rows.js'
import { SayLicence } from './say-licence.js'
import { useDraft } from './use-draft.js'
import { subjectWords } from './words.js'

const PAGES_SHOWN = 3

/** What is wrong with the rules taken together, the worst first, each with its way out. */
export function Findings({ siteId }: { siteId: number }) {
  const { data: findings = [] } = useFindings(siteId)
  if (findings.length === 0) return null
  return (
    <section aria-label="Findings" className="border-b border-line">
      <h2 className="px-4 pt-4 pb-1 text-[17px]">{plural(findings.length, 'thing')} to look at</h2>
      <ol>
        {findings.map((finding) => (
          <Finding
            key={`${finding.kind} ${finding.rules.map(({ rule }) => rule.id).join()} ${finding.about ?? ''}`}
            siteId={siteId}
            finding={finding}
          />
        ))}
      </ol>
    </section>
  )
}

function Finding({ siteId, finding }: { siteId: number; finding: RuleFinding }) {
  const { pages, pageCount, kind } = finding
  return (
    <li className="flex items-start gap-4 border-t border-line/60 px-4 py-2">
      <div className="min-w-0 flex-1">
        <p className={kind === 'conflict' ? 'text-plum' : undefined}>{findingWords(finding)}</p>
        {pages.length > 0 && (
          <p className="truncate text-[12.5px] text-soft">
            {pages.slice(0, PAGES_SHOWN).join(', ')}
            {pageCount > PAGES_SHOWN && ` and ${pageCount - PAGES_SHOWN} more`}
          </p>
        )}
      </div>
      <WaysOut siteId={siteId} finding={finding} />
    </li>
  )
}

function WaysOut({ siteId, finding: { wayOut, rules, pageCount } }: { siteId: number; finding: RuleFinding }) {
  const draft = useDraft(siteId)
  const change = useChangeDrafts(siteId)
  const onError = (error: Error) => toast.error(error.message)
  const withdraw = (id: string) => change.mutate({ do: 'remove', id }, { onError })
  const [first] = rules
  if (wayOut.do === 'keep') {
    // With more pages than are named, an exception for these would only look like a way out.
    if (wayOut.pages.length < pageCount) return null
    const rule: RuleInput = { addon: wayOut.addon, effect: 'keep', place: placeOf(wayOut.pages) }
    return (
      <Button disabled={draft.isPending} onClick={() => draft.add([rule])}>
        Keep it {wayOut.pages.length === 1 ? 'there' : `on these ${wayOut.pages.length}`}
      </Button>
    )
  }
  if (wayOut.do === 'unload-too' && first) {
    const { effect, place } = first.rule
    return (
      <Button
        disabled={draft.isPending}
        onClick={() => draft.add(wayOut.addons.map((addon) => ({ addon, effect, place })))}
      >
        Unload {wayOut.addons.length === 1 ? 'that' : 'those'}, too
      </Button>
    )
  }
  if (wayOut.do === 'confine' && first) {
    const { addon, feature, file, effect, condition, note } = first.rule
    const confined = {
      ...{ addon, feature, file, effect, condition, note },
      ...particularsOf(first.rule),
      place: { level: 'area', area: 'public' },
    }
    return (
      <Button
        disabled={draft.isPending}
        onClick={() => {
          draft.add([JSON.parse(JSON.stringify(confined)) as RuleInput])
          if (first.state === 'draft') withdraw(first.rule.id)
        }}
      >
        Public pages only
      </Button>
    )
  }
  if (wayOut.do === 'remove' || wayOut.do === 'choose') {
    const some = rules.filter(({ rule }) => wayOut.rules.includes(rule.id) && !rule.removed)
    if (some.length > 0)
      return (
        <span className="flex gap-2">
          {some.map(({ rule, state }) => (
            <Button
              key={rule.id}
              disabled={change.isPending || draft.isPending}
              onClick={() => (state === 'draft' ? withdraw(rule.id) : draft.add([{ ...inputOf(rule), removed: true }]))}
            >
              {state === 'draft' ? 'Withdraw' : 'Draft that it goes:'}{' '}
              {some.length > 1 ? subjectWords(rule) : state === 'draft' ? 'the draft' : subjectWords(rule)}
            </Button>
          ))}
        </span>
      )
  }
  if (wayOut.do === 'license' && first)
    return <SayLicence isPending={draft.isPending} onSay={(licence) => draft.add([licensed(first.rule, licence)])} />
  if (wayOut.do === 'check')
    return (
      <Link
        to={`/sites/${siteId}/add-ons/${encodeURIComponent(wayOut.addon)}`}
        className="text-verdigris hover:underline"
      >
        See the add-on
      </Link>
    )
  return null
}

const placeOf = (paths: string[]): RuleInput['place'] =>
  paths.length === 1 ? { level: 'page', path: paths[0]! } : { level: 'set', paths }

const licensed = (rule: RuleView, licence: string): RuleInput => ({
  ...inputOf(rule),
  copy: { ...rule.copy, licence },
})
