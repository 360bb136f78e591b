import { useState } from 'react'
import type { ConsentCost, ConsentSide, Lens, LensInput, Site } from '@unvelt/contract'
import { useConsent, useLookForConsent } from '../api/consent.js'
import { useChangeLenses, useLenses } from '../api/queries.js'
import { bytes, count, dateTime, plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { Failed } from '../parts/notice.js'
import { toast } from '../parts/toast.js'
import { consentSentence, SIDE_WORDS, sideOf } from './consent-words.js'

const SHOWN_TEXT = 160

/** Whoever followed a link to it sees it at once, though it stands far down. */
const comeToIt = (heading: HTMLElement | null) => {
  if (location.hash === '#consent') heading?.scrollIntoView()
}

/** What the site loads before its visitors have answered whether they agree, and what after either answer. */
export function ConsentPart({ site }: { site: Site }) {
  const { data, error, refetch } = useConsent(site.id)
  const look = useLookForConsent(site.id)
  const [path, setPath] = useState<string | null>(null)
  if (error) return <Failed error={error} retry={() => void refetch()} />
  if (!data) return null
  const isWaiting = data.state === 'waiting'
  const begin = () => look.mutate({ path: path ?? data.path }, { onError: (failure) => toast.error(failure.message) })
  return (
    <section id="consent" aria-label="Consent" className="border-t border-line px-4 py-3">
      <h2 className="text-[17px]" ref={comeToIt}>
        Consent
      </h2>
      <p className="max-w-3xl text-soft">
        What visitors load who agree to be followed is not what those load who refuse, or have not answered. The site’s
        banner is looked for on a page, and the page read in each state by a browser that was never there.
      </p>
      <form
        className="mt-2 flex flex-wrap items-center gap-2"
        onSubmit={(event) => {
          event.preventDefault()
          begin()
        }}
      >
        <label className="flex items-center gap-2">
          Page
          <input
            value={path ?? data.path}
            onChange={(event) => setPath(event.target.value)}
            spellCheck={false}
            className="h-8 w-56 border border-line bg-sheet px-2"
          />
        </label>
        <Button type="submit" disabled={isWaiting || look.isPending}>
          {data.state === 'none' ? 'Look for the banner' : 'Look again'}
        </Button>
        {isWaiting && (
          <span role="status" className="text-soft">
            {data.sides.length === 0
              ? 'Looking for the banner …'
              : `Read ${SIDE_WORDS[data.sides.at(-1)!.side]}; the next answer is given …`}
          </span>
        )}
      </form>
      {data.state === 'done' && <Outcome site={site} cost={data} />}
    </section>
  )
}

function Outcome({ site, cost }: { site: Site; cost: ConsentCost }) {
  const { banner, failure, takenAt, path, sides } = cost
  if (failure)
    return (
      <p role="alert" className="mt-2 text-plum">
        {path} could not be looked at: {failure}
      </p>
    )
  if (!banner)
    return (
      <p className="mt-2">
        Nothing on {path} asks for consent, as far as can be seen. {takenAt && `Looked at ${dateTime(takenAt)}.`}
      </p>
    )
  const [before, agreed] = [sideOf(cost, 'before'), sideOf(cost, 'agreed')]
  const early = before?.outsiders.map(({ host }) => host) ?? []
  const held = agreed?.outsiders.map(({ host }) => host).filter((host) => !early.includes(host)) ?? []
  return (
    <>
      <p className="mt-3 font-semibold">{consentSentence(cost)}</p>
      <p className="text-[13px] text-soft">
        {path}, {takenAt && dateTime(takenAt)}. It asks: “{banner.text.slice(0, SHOWN_TEXT)}
        {banner.text.length > SHOWN_TEXT && ' …'}”
      </p>
      <table aria-label="What consent costs" className="mt-2 text-left">
        <thead className="text-[13px] text-soft">
          <tr>
            <th className="py-1 pr-8 font-normal">What the visitor has answered</th>
            <th className="py-1 pr-8 text-right font-normal">Requests</th>
            <th className="py-1 pr-8 text-right font-normal">Transfer</th>
            <th className="py-1 text-right font-normal">Outside hosts</th>
          </tr>
        </thead>
        <tbody>
          {sides.map((side) => (
            <Row key={side.side} side={side} pressed={side.side === 'before' ? null : pressedOn(cost, side)} />
          ))}
        </tbody>
      </table>
      <Hosts title="Asked before anybody has agreed" hosts={early} isBad />
      <Hosts title="Asked only after agreeing" hosts={held} />
      {!banner.refuse && (
        <p className="mt-1 text-[13px] text-soft">
          Nothing on the banner refuses, at once or behind what leads on, as far as can be seen.
        </p>
      )}
      <MakeLenses site={site} cost={cost} />
    </>
  )
}

const pressedOn = ({ banner }: ConsentCost, { side }: ConsentSide): string | null => {
  const press = side === 'agreed' ? banner?.agree : banner?.refuse
  if (!press) return null
  const off = press.off ? `${plural(press.off.length, 'switch', 'switches')} off, ` : ''
  return press.first ? `“${press.first.name}”, ${off || 'then '}“${press.name}”` : `${off}“${press.name}”`
}

function Row({ side, pressed }: { side: ConsentSide; pressed: string | null }) {
  return (
    <tr className="border-t border-line/60">
      <th scope="row" className="py-1 pr-8 font-normal">
        {SIDE_WORDS[side.side]}
        {pressed !== null && <span className="text-soft"> – {pressed}</span>}
      </th>
      {side.failure === null ? (
        <>
          <td className="figures py-1 pr-8 text-right">{count(side.requests)}</td>
          <td className="figures py-1 pr-8 text-right">{bytes(side.transferBytes)}</td>
          <td className="figures py-1 text-right">{count(side.outsiders.length)}</td>
        </>
      ) : (
        <td colSpan={3} className="py-1 text-plum">
          {side.failure}
        </td>
      )}
    </tr>
  )
}

function Hosts({ title, hosts, isBad = false }: { title: string; hosts: string[]; isBad?: boolean }) {
  if (hosts.length === 0) return null
  return (
    <p className="mt-2 max-w-4xl text-[13.5px]">
      <span className={isBad ? 'font-semibold text-plum' : 'font-semibold'}>{title}:</span>{' '}
      <span className="[overflow-wrap:anywhere]">{hosts.join(', ')}</span>
    </p>
  )
}

/** Lenses by which whole sweeps see the site as those who agree, or refuse. */
function MakeLenses({ site, cost }: { site: Site; cost: ConsentCost }) {
  const lenses = useLenses(site.id)
  const change = useChangeLenses(site.id)
  const [first] = lenses.data ?? []
  const missing = (['agreed', 'refused'] as const).filter(
    (answer) => sideOf(cost, answer) && !lenses.data?.some(({ consent }) => consent?.answer === answer),
  )
  if (!first || missing.length === 0) return null
  const make = async () => {
    try {
      for (const answer of missing) await change.mutateAsync({ do: 'add', lens: lensFor(first, cost, answer) })
      toast(`${plural(missing.length, 'lens', 'lenses')} made; sweeps can be made through them.`)
    } catch (error) {
      toast.error((error as Error).message)
    }
  }
  return (
    <p className="mt-3 flex items-center gap-3">
      <Button disabled={change.isPending} onClick={() => void make()}>
        Make {missing.length === 1 ? 'a lens' : 'lenses'} of it
      </Button>
      <span className="text-[13px] text-soft">
        {missing.map((answer) => `“${nameFor(first, answer)}”`).join(' and ')}, so that whole sweeps are read so.
      </span>
    </p>
  )
}

const nameFor = ({ name }: Lens, answer: 'agreed' | 'refused') => `${name}, ${answer}`

function lensFor(first: Lens, { banner }: ConsentCost, answer: 'agreed' | 'refused'): LensInput {
  const press = answer === 'agreed' ? banner!.agree : banner!.refuse!
  const { device, network, cache } = first
  return {
    name: nameFor(first, answer),
    device,
    network,
    cache,
    visitor: { kind: 'signed-out' },
    consent: { answer, by: 'press', ...press },
  }
}
