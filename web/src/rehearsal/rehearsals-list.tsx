import { Link, useNavigate } from 'react-router'
import { usePlayGuards, useRehearsals } from '../api/rehearsals.js'
import { dateTime } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'
import { isBad, rehearsalTitle, rehearsalWords } from './rehearsal-words.js'

/** Every rehearsal and every round of guards on the live site, newest first. */
export function RehearsalsList({ siteId }: { siteId: number }) {
  const { data: rehearsals = [] } = useRehearsals(siteId)
  const play = usePlayGuards(siteId)
  const navigate = useNavigate()
  const isBusy = rehearsals.some(({ state }) => state === 'running')
  return (
    <section aria-label="Rehearsals">
      <div className="flex flex-wrap items-end gap-x-4 gap-y-1 px-4 pt-6 pb-2">
        <h2 className="text-[17px]">Rehearsals</h2>
        <p className="min-w-0 grow basis-60 text-[13px] text-soft max-md:basis-full">
          {rehearsals.some(({ round }) => round)
            ? 'Guards on the live site are held against the last round that was as it should be.'
            : 'Guards can be played on the live site at any time, without drafts; the first round is what later ones are held against.'}
        </p>
        <Button
          disabled={isBusy || play.isPending}
          onClick={() =>
            play.mutate(
              {},
              {
                onSuccess: ({ id }) => void navigate(`/sites/${siteId}/rules/rehearsals/${id}`),
                onError: (error) => toast.error('No guard is played', { description: error.message }),
              },
            )
          }
        >
          Play the guards on the live site
        </Button>
      </div>
      <ol aria-label="Rehearsals">
        {rehearsals.map((rehearsal) => (
          <li key={rehearsal.id} className="flex items-center gap-4 border-t border-line/60 px-4 py-1.5">
            <Link
              to={`/sites/${siteId}/rules/rehearsals/${rehearsal.id}`}
              className="min-w-0 flex-1 truncate text-verdigris hover:underline"
            >
              {rehearsal.round || rehearsal.deploymentId !== null ? rehearsalTitle(rehearsal) : rehearsal.what}
            </Link>
            <span className={isBad(rehearsal) ? 'text-plum' : 'text-soft'}>{rehearsalWords(rehearsal)}</span>
            <span className="figures w-40 text-right text-[12.5px] text-soft">{dateTime(rehearsal.startedAt)}</span>
          </li>
        ))}
      </ol>
    </section>
  )
}
