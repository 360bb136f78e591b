import { Link } from 'react-router'
import type { RuleFinding } from '@unvelt/contract'
import { useFindings } from '../api/queries.js'
import { plural } from '../figures/format.js'
import { wayInWords } from '../rules/finding-words.js'
import { subjectWords } from '../rules/words.js'

const MOST_NAMED = 3

/** What a live rule or a switch of the site turns off and what still comes, told where the site stands, with who brings it in. */
export function StillArrives({ siteId }: { siteId: number }) {
  const { data: findings = [] } = useFindings(siteId)
  const found = findings.filter(({ kind }) => kind === 'still-arrives' || kind === 'off-arrives')
  if (found.length === 0) return null
  return (
    <div role="status" className="mt-3 max-w-3xl border-l-2 border-plum pl-3">
      <p>What is off still came in the last sweep:</p>
      <ul>
        {found.slice(0, MOST_NAMED).map((finding) => (
          <li key={`${finding.kind} ${finding.rules[0]?.rule.id ?? finding.about}`}>
            <Subject siteId={siteId} finding={finding} /> on {plural(finding.pageCount, 'page')}, though{' '}
            {finding.kind === 'off-arrives' ? 'the site has it switched off' : 'a rule against it is live'}
            {wayInWords(finding.broughtIn)}.
          </li>
        ))}
      </ul>
      {found.length > MOST_NAMED && <p>And {found.length - MOST_NAMED} more. </p>}
      <Link to={`/sites/${siteId}/rules`} className="text-verdigris hover:underline">
        See the rules
      </Link>
    </div>
  )
}

function Subject({ siteId, finding: { rules, about, wayOut } }: { siteId: number; finding: RuleFinding }) {
  const slug = wayOut.do === 'check' ? wayOut.addon : ''
  return (
    <Link to={`/sites/${siteId}/add-ons/${encodeURIComponent(slug)}`} className="text-verdigris hover:underline">
      {rules[0] ? subjectWords(rules[0].rule) : about}
    </Link>
  )
}
