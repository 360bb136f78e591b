import { Link, useParams } from 'react-router'
import type { RetirementSheet } from '@unvelt/contract'
import { useRetire, useRetirement } from '../api/retirements.js'
import { bytes, dateTime, milliseconds, plural, signed } from '../figures/format.js'
import { useSite } from '../frame/site-context.js'
import { Button } from '../parts/button.js'
import { Failed, Loading } from '../parts/notice.js'
import { PlaceHead } from '../parts/place-head.js'
import { toast } from '../parts/toast.js'
import { costWords, standWords } from './retirement-words.js'
import { StepList } from './step-list.js'

/** The sheet of one retirement: its steps with what speaks for each, and what can be done now. */
export function RetirementPlace() {
  const site = useSite()
  const retirement = useRetirement(site.id, Number(useParams().retirement))
  if (retirement.isPending) return <Loading what="the retirement" />
  if (retirement.isError) return <Failed error={retirement.error} retry={() => void retirement.refetch()} />
  return <Sheet siteId={site.id} sheet={retirement.data} />
}

function Sheet({ siteId, sheet }: { siteId: number; sheet: RetirementSheet }) {
  const to = `/sites/${siteId}/add-ons/${encodeURIComponent(sheet.slug)}`
  return (
    <div className="h-full overflow-auto">
      <PlaceHead title={titleOf(sheet)} action={<Actions siteId={siteId} sheet={sheet} />}>
        {sheet.version && `${sheet.version}. `}Begun {dateTime(sheet.openedAt)}.{' '}
        {sheet.wasGone ? (
          'It went before; only what it left behind is to go. '
        ) : sheet.features ? (
          'What they cost shows in the rehearsal, and in the sweep after. '
        ) : (
          <>
            It cost {costWords(sheet.before)} in 1,000 page views.{' '}
            <Link to={to} className="text-verdigris hover:underline">
              Its sheet
            </Link>{' '}
          </>
        )}
        <Link to={`/sites/${siteId}/retirements`} className="text-verdigris hover:underline">
          All retirements
        </Link>
      </PlaceHead>
      <p
        role="status"
        className={`border-b border-line px-4 py-1.5 ${sheet.failure ? 'bg-plum/10 text-plum' : 'bg-wash'}`}
      >
        {capital(standWords(sheet))}
        {sheet.isBack && sheet.state === 'done' && ' It was retired, and the site has it again.'}
        {!sheet.isBack &&
          sheet.seenAgain.length > 0 &&
          ` It is gone, and pages ask ${sheet.seenAgain.join(', ')} all the same.`}
      </p>
      {sheet.gain && <Gain siteId={siteId} sheet={sheet} />}
      <StepList siteId={siteId} sheet={sheet} />
      <section aria-label="What was done" className="border-t border-line px-4 pt-4 pb-8">
        <h2 className="text-[17px]">What was done</h2>
        <ol className="mt-1 text-[13.5px]">
          {sheet.log.toReversed().map(({ at, said, who }, n) => (
            <li key={`${at} ${n}`} className="flex gap-4 py-0.5">
              <span className="figures w-40 shrink-0 text-soft">{dateTime(at)}</span>
              <span>
                {said}
                {who && <span className="text-soft"> {who}</span>}
              </span>
            </li>
          ))}
        </ol>
      </section>
    </div>
  )
}

function titleOf({ name, wasGone, features }: RetirementSheet): string {
  if (wasGone) return `Clear away what ${name} left`
  return features ? `Switch off ${name.replace(':', ',')}` : `Retire ${name}`
}

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1)

function Gain({ siteId, sheet: { gain } }: { siteId: number; sheet: RetirementSheet }) {
  if (!gain) return null
  const figures = [
    ['Requests', signed(gain.requests, (n) => n.toFixed(1))],
    ['Transfer', signed(gain.transferBytes, bytes)],
    ['Server', signed(gain.serverMs, milliseconds)],
  ]
  return (
    <div className="flex flex-wrap items-baseline gap-x-8 gap-y-1 border-b border-line px-4 py-2">
      <dl aria-label="Gain" className="flex flex-wrap items-baseline gap-x-8">
        {figures.map(([name, figure]) => (
          <div key={name} className="flex items-baseline gap-2">
            <dt className="text-[13px] text-soft">{name}</dt>
            <dd className="figures font-serif text-[17px] font-semibold">{figure}</dd>
          </div>
        ))}
      </dl>
      <span className="text-[13px] text-soft">
        a page, in the mean of {plural(gain.pages, 'page')}:{' '}
        <Link
          to={`/sites/${siteId}/proof/two-sweeps?then=${gain.before}&now=${gain.after}`}
          className="text-verdigris hover:underline"
        >
          sweep {gain.after} against sweep {gain.before}
        </Link>
        , all that changed between them included
      </span>
    </div>
  )
}

function Actions({ siteId, sheet }: { siteId: number; sheet: RetirementSheet }) {
  const retire = useRetire(siteId)
  const onError = (error: Error) => toast.error(error.message)
  const { id, state, doing, isInstalled, isActive, snapshot } = sheet
  const busy = retire.isPending || doing !== null
  const change = (to: 'open' | 'paused' | 'cancelled' | 'done') =>
    retire.mutate({ id, change: { state: to } }, { onError })
  const allDone = sheet.steps.every((step) => step.state === 'done')
  return (
    <div className="flex shrink-0 gap-2">
      {snapshot && !(isInstalled && isActive) && sheet.hasConnector && (
        <Button
          disabled={busy}
          onClick={() => retire.mutate({ id, do: { act: isInstalled ? 'on' : 'restore' } }, { onError })}
        >
          {sheet.wasGone ? 'Put back what was left' : isInstalled ? 'Switch it on again' : 'Put it back'}
        </Button>
      )}
      {state === 'open' && (
        <Button weight="quiet" disabled={busy} onClick={() => change('paused')}>
          Pause
        </Button>
      )}
      {state === 'paused' && (
        <Button disabled={busy} onClick={() => change('open')}>
          Go on
        </Button>
      )}
      {sheet.finishedAt === null && !allDone && (
        <Button weight="quiet" disabled={busy} onClick={() => change('cancelled')}>
          Call it off
        </Button>
      )}
      {sheet.finishedAt === null && allDone && (
        <Button weight="main" disabled={busy} onClick={() => change('done')}>
          It is done
        </Button>
      )}
    </div>
  )
}
