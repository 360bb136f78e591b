import { Link } from 'react-router'
import type { RehearsalSheet } from '@unvelt/contract'

/** Of a rehearsal that throws out what breaks a guard: what became of it, and where it goes on. */
export function BestRoundLine({ siteId, sheet }: { siteId: number; sheet: RehearsalSheet }) {
  const { best, searches, failing, passed, state } = sheet
  if (!best || state === 'running') return null
  const to = (id: number) => `/sites/${siteId}/rules/rehearsals/${id}`
  const searching = searches.filter((search) => search.state === 'running').length
  const thrown = new Set(searches.flatMap(({ culprits }) => culprits ?? [])).size
  return (
    <p role="status" className="border-b border-line bg-wash px-4 py-1.5">
      {sheet.deploymentId === null
        ? `Round ${best.round}: what breaks a guard is set aside`
        : 'The change was taken back'}
      {best.after !== null && (
        <>
          , after{' '}
          <Link to={to(best.after)} className="text-verdigris hover:underline">
            round {best.round - 1}
          </Link>
        </>
      )}
      .{' '}
      {searching > 0 &&
        `Looking for what breaks the guards; ${searching} ${searching === 1 ? 'search' : 'searches'} under way. `}
      {thrown > 0 && `${thrown === 1 ? 'A draft was' : `${thrown} drafts were`} set aside. `}
      {best.next !== null && (
        <Link to={to(best.next)} className="text-verdigris hover:underline">
          The rest is rehearsed once more
        </Link>
      )}
      {best.next === null && passed && 'What is drafted now passes; nothing goes live by itself.'}
      {best.next === null && !passed && searching === 0 && failing > 0 && 'No further round follows.'}
    </p>
  )
}
