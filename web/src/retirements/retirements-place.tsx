import { useNavigate, Link } from 'react-router'
import type { Retirement, Retirements } from '@unvelt/contract'
import { useRetire, useRetirements } from '../api/retirements.js'
import { bytes, dateTime, milliseconds, plural, signed } from '../figures/format.js'
import { useSite } from '../frame/site-context.js'
import { Button } from '../parts/button.js'
import { Failed, Loading } from '../parts/notice.js'
import { PlaceHead } from '../parts/place-head.js'
import { toast } from '../parts/toast.js'
import { costWords, lostWords, reasonWords, standWords } from './retirement-words.js'
import { AskedOfSite } from './asked-of-site.js'
import { IdleFeatures } from './idle-features.js'
import { ToBeAsked } from './to-be-asked.js'
import { StepTrack } from './step-track.js'

/** What may go for good, what is on its way, and what went. */
export function RetirementsPlace() {
  const site = useSite()
  const place = useRetirements(site.id)
  if (place.isPending) return <Loading what="what may go" />
  if (place.isError) return <Failed error={place.error} retry={() => void place.refetch()} />
  const { candidates, questions, idleFeatures, retirements } = place.data
  const open = retirements.filter(({ finishedAt }) => finishedAt === null)
  const gone = retirements.filter(({ state }) => state === 'done')
  const off = retirements.filter(({ state }) => state === 'cancelled')
  return (
    <div className="h-full overflow-auto">
      <PlaceHead title="Retirements">
        {plural(candidates.length, 'add-on')} may go for good, {open.length === 0 ? 'none is' : open.length} on the way
        {gone.length > 0 && `, ${gone.length} gone`}. Nothing goes without a snapshot that was read back.
      </PlaceHead>
      {open.length > 0 && <OnTheWay siteId={site.id} open={open} />}
      <Candidates siteId={site.id} candidates={candidates} />
      <IdleFeatures siteId={site.id} idle={idleFeatures} />
      <ToBeAsked siteId={site.id} questions={questions} />
      {site.hasConnector && <AskedOfSite siteId={site.id} open={open} />}
      {gone.length > 0 && <Gone siteId={site.id} gone={gone} />}
      {off.length > 0 && (
        <section aria-label="Called off" className="border-t border-line pb-4">
          <h2 className="px-4 pt-4 pb-1 text-[17px]">Called off</h2>
          <ul>
            {off.map((retirement) => (
              <li key={retirement.id} className="border-t border-line/60 px-4 py-1.5">
                <SheetLink siteId={site.id} retirement={retirement} />{' '}
                <span className="text-soft">{retirement.finishedAt && dateTime(retirement.finishedAt)}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  )
}

const SheetLink = ({ siteId, retirement: { id, name } }: { siteId: number; retirement: Retirement }) => (
  <Link to={`/sites/${siteId}/retirements/${id}`} className="font-semibold text-verdigris hover:underline">
    {name}
  </Link>
)

function OnTheWay({ siteId, open }: { siteId: number; open: Retirement[] }) {
  return (
    <section aria-label="On the way">
      <h2 className="px-4 pt-4 pb-1 text-[17px]">On the way</h2>
      <ul>
        {open.map((retirement) => (
          <li
            key={retirement.id}
            className="grid grid-cols-[12rem_auto_minmax(0,1fr)] max-md:grid-cols-[minmax(0,1fr)_auto] items-center gap-5 border-t border-line/60 px-4 py-2"
          >
            <SheetLink siteId={siteId} retirement={retirement} />
            <StepTrack steps={retirement.steps} />
            <span className={`truncate ${retirement.failure ? 'text-plum' : 'text-soft'}`}>
              {standWords(retirement)}
            </span>
          </li>
        ))}
      </ul>
    </section>
  )
}

function Candidates({ siteId, candidates }: { siteId: number; candidates: Retirements['candidates'] }) {
  const retire = useRetire(siteId)
  const navigate = useNavigate()
  const begin = (slug: string) =>
    retire.mutate(
      { open: slug },
      {
        onSuccess: ({ id }) => void navigate(`/sites/${siteId}/retirements/${id}`),
        onError: (error) => toast.error(error.message),
      },
    )
  return (
    <section aria-label="Candidates" className="border-t border-line">
      <h2 className="px-4 pt-4 text-[17px]">What may go</h2>
      <p className="px-4 pb-1 text-[13px] text-soft">
        The most waiting first. What works unseen, is planned, is needed, or of whose use nothing is known is not among
        them.
      </p>
      {candidates.length === 0 && <p className="px-4 py-3">Nothing that is known of this site may go.</p>}
      {candidates.length > 0 && (
        <div className="max-md:overflow-x-auto">
          <table aria-label="Candidates" className="w-full max-md:min-w-[640px]">
            <thead>
              <tr className="border-b border-line text-left text-[12.5px] text-soft">
                <th className="py-1 pl-4 font-normal">Add-on</th>
                <th className="py-1 font-normal">Why</th>
                <th className="py-1 text-right font-normal">Waiting in 1,000 views</th>
                <th className="py-1 pl-6 font-normal">What would be lost</th>
                <td />
              </tr>
            </thead>
            <tbody>
              {candidates.map((candidate) => (
                <tr key={candidate.addon} className="border-b border-line/60 align-top">
                  <td className="py-2 pl-4">
                    <Link
                      to={`/sites/${siteId}/add-ons/${encodeURIComponent(candidate.addon)}`}
                      className="font-semibold hover:underline"
                    >
                      {candidate.name}
                    </Link>
                  </td>
                  <td className="max-w-md py-2 pr-4">
                    {candidate.reasons.map(reasonWords).join('; ')}
                    <span className="block text-[12.5px] text-soft">{candidate.certainty}</span>
                  </td>
                  <td className="figures py-2 text-right whitespace-nowrap" title={costWords(candidate.perThousand)}>
                    {candidate.perThousand.waitingMs >= 1 ? milliseconds(candidate.perThousand.waitingMs) : '–'}
                  </td>
                  <td className="py-2 pl-6 text-[13px] text-soft">{lostWords(candidate)}</td>
                  <td className="py-1.5 pr-4 text-right">
                    <Button
                      disabled={retire.isPending}
                      aria-label={`Retire ${candidate.name}`}
                      onClick={() => begin(candidate.addon)}
                    >
                      Retire …
                    </Button>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </section>
  )
}

/** The ledger of the gone. */
function Gone({ siteId, gone }: { siteId: number; gone: Retirement[] }) {
  return (
    <section aria-label="Gone" className="border-t border-line pb-4">
      <h2 className="px-4 pt-4 pb-1 text-[17px]">Gone</h2>
      <div className="max-md:overflow-x-auto">
        <table aria-label="Gone" className="w-full max-md:min-w-[640px]">
          <thead>
            <tr className="border-b border-line text-left text-[12.5px] text-soft">
              <th className="py-1 pl-4 font-normal">Add-on</th>
              <th className="py-1 font-normal">Removed</th>
              <th className="py-1 text-right font-normal">Requests a page</th>
              <th className="py-1 text-right font-normal">Transfer a page</th>
              <th className="py-1 pr-4 text-right font-normal">Server a page</th>
            </tr>
          </thead>
          <tbody>
            {gone.map((retirement) => {
              const { gain, version, removedAt, isBack, seenAgain } = retirement
              return (
                <tr key={retirement.id} className="border-b border-line/60">
                  <td className="py-1.5 pl-4">
                    <SheetLink siteId={siteId} retirement={retirement} /> <span className="text-soft">{version}</span>
                    {isBack && <span className="text-plum"> – the site has it again</span>}
                    {!isBack && seenAgain.length > 0 && (
                      <span className="text-plum"> – {seenAgain.join(', ')} is asked for again</span>
                    )}
                  </td>
                  <td className="figures text-soft">{removedAt ? dateTime(removedAt) : '–'}</td>
                  <td className="figures text-right">{gain ? signed(gain.requests, (n) => n.toFixed(1)) : '–'}</td>
                  <td className="figures text-right">{gain ? signed(gain.transferBytes, bytes) : '–'}</td>
                  <td className="figures pr-4 text-right">{gain ? signed(gain.serverMs, milliseconds) : '–'}</td>
                </tr>
              )
            })}
          </tbody>
        </table>
      </div>
    </section>
  )
}
