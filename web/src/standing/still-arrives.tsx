import { Link } from 'react-router'
import { useFindings } from '../api/queries.js'
import { plural } from '../figures/format.js'
import { subjectWords } from '../rules/words.js'

const MOST_NAMED = 3

/** Rules that are live while what they are about still comes, told where the site stands. */
export function StillArrives({ siteId }: { siteId: number }) {
  const { data: findings = [] } = useFindings(siteId)
  const found = findings.filter(({ kind }) => kind === 'still-arrives')
  if (found.length === 0) return null
  const named = found.flatMap(({ rules }) => (rules[0] ? [rules[0].rule] : []))
  return (
    <p role="status" className="mt-3 max-w-3xl border-l-2 border-plum pl-3">
      {plural(found.length, 'rule')} {found.length === 1 ? 'is' : 'are'} live, and what{' '}
      {found.length === 1 ? 'it is' : 'they are'} about still came in the last sweep:{' '}
      {found.slice(0, MOST_NAMED).map(({ pageCount }, n) => (
        <span key={named[n]?.id ?? n}>
          {n > 0 && '; '}
          {named[n] && (
            <Link
              to={`/sites/${siteId}/add-ons/${encodeURIComponent(named[n].addon)}`}
              className="text-verdigris hover:underline"
            >
              {subjectWords(named[n])}
            </Link>
          )}{' '}
          on {plural(pageCount, 'page')}
        </span>
      ))}
      {found.length > MOST_NAMED && ` and ${found.length - MOST_NAMED} more`}.{' '}
      <Link to={`/sites/${siteId}/rules`} className="text-verdigris hover:underline">
        See the rules
      </Link>
    </p>
  )
}
