import { Link } from 'react-router'
import { useRehearsals } from '../api/rehearsals.js'
import { dateTime } from '../figures/format.js'
import { isBad, rehearsalWords } from './rehearsal-words.js'

/** Every rehearsal, newest first. */
export function RehearsalsList({ siteId }: { siteId: number }) {
  const { data: rehearsals = [] } = useRehearsals(siteId)
  if (rehearsals.length === 0) return null
  return (
    <>
      <h2 className="px-4 pt-6 pb-2 text-[17px]">Rehearsals</h2>
      <ol aria-label="Rehearsals">
        {rehearsals.map((rehearsal) => (
          <li key={rehearsal.id} className="flex items-center gap-4 border-t border-line/60 px-4 py-1.5">
            <Link
              to={`/sites/${siteId}/rules/rehearsals/${rehearsal.id}`}
              className="min-w-0 flex-1 truncate text-verdigris hover:underline"
            >
              {rehearsal.deploymentId !== null && 'Guards once live: '}
              {rehearsal.what}
            </Link>
            <span className={isBad(rehearsal) ? 'text-plum' : 'text-soft'}>{rehearsalWords(rehearsal)}</span>
            <span className="figures w-40 text-right text-[12.5px] text-soft">{dateTime(rehearsal.startedAt)}</span>
          </li>
        ))}
      </ol>
    </>
  )
}
