import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import type { NextMoveView, Site, Standing } from '@unvelt/contract'
import { call } from '../api/client.js'
import { keys, useDrafts } from '../api/queries.js'
import { bytes, milliseconds, plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'
import { useDraft } from '../rules/use-draft.js'
import { RehearseBest } from './rehearse-best.js'
import { didThis } from '../undo/undo.js'

const TITLES: Record<string, (name: string) => string> = {
  confine: (name) => `Confine ${name} to the pages that use it`,
  retire: (name) => `Retire ${name}`,
  hold: (name) => `Hold ${name} until the page is idle`,
  local: (name) => `Serve ${name} from the own host`,
  'same job': (name) => `Do without ${name}`,
  features: (name) => `Switch off what nobody uses of ${name}`,
  pictures: () => 'Make pictures lighter',
  files: () => 'Pack and minify files',
  nowhere: () => 'Leave out styles that are used nowhere',
  first: () => 'Ask for the largest picture first',
  'switched off': (name) => `Take ${name} off the site`,
}
const FEW = 6

/** What to do next, best first; each can be drafted, or put aside with a reason. */
export function Moves({ site, standing }: { site: Site; standing: Standing }) {
  const [all, setAll] = useState(false)
  const { moves, dismissed } = standing
  const shown = all ? moves : moves.slice(0, FEW)
  return (
    <section aria-label="Next moves" className="mt-7 max-w-3xl">
      <h2 className="text-[20px]">Next moves</h2>
      <p className="text-[13px] text-soft">
        Ranked by the waiting they spare in 1,000 page views: server time, main thread, and transfer at 1.6 Mbit/s.
      </p>
      <RehearseBest site={site} moves={moves} />
      {moves.length === 0 && <p className="mt-3">Nothing that is known of this site asks to be changed.</p>}
      <ol className="mt-2">
        {shown.map((move) => (
          <Move key={move.key} site={site} move={move} />
        ))}
      </ol>
      {moves.length > FEW && (
        <button type="button" className="mt-2 text-verdigris hover:underline" onClick={() => setAll(!all)}>
          {all ? 'Show the best only' : `Show all ${moves.length}`}
        </button>
      )}
      {dismissed.length > 0 && <Dismissed site={site} dismissed={dismissed} />}
    </section>
  )
}

function useDismissal(site: Site) {
  const client = useQueryClient()
  const fresh = () => client.invalidateQueries({ queryKey: keys.standing(site.id) })
  const bringBack = async (move: string) => {
    await call('DELETE', `/sites/${site.id}/dismissals?move=${encodeURIComponent(move)}`)
    await fresh()
  }
  const dismiss = async (move: string, why: string) => {
    await call('POST', `/sites/${site.id}/dismissals`, { move, why })
    await fresh()
    didThis('A move was put aside', () => bringBack(move))
  }
  const said = (promise: Promise<unknown>) => void promise.catch((error: Error) => toast.error(error.message))
  return {
    dismiss: (move: string, why: string) => said(dismiss(move, why)),
    bringBack: (move: string) => said(bringBack(move)),
  }
}

function Move({ site, move }: { site: Site; move: NextMoveView }) {
  const draft = useDraft(site.id)
  const { data: drafts } = useDrafts(site.id)
  const { dismiss } = useDismissal(site)
  const [why, setWhy] = useState<string | null>(null)
  const { name, addon, spared, rules } = move
  const drafted =
    rules.length > 0 &&
    rules.every((rule) =>
      drafts?.rules.some((each) => each.addon === rule.addon && each.effect === rule.effect && each.file === rule.file),
    )
  const sheet =
    move.type === 'first'
      ? `/sites/${site.id}/pages`
      : ['pictures', 'files', 'nowhere'].includes(move.type)
        ? `/sites/${site.id}/pages?view=${move.type}`
        : `/sites/${site.id}/add-ons/${encodeURIComponent(addon)}`
  return (
    <li className="border-b border-line/70 py-3">
      <div className="flex items-start gap-4">
        <div className="min-w-0 flex-1">
          <p className="text-[15.5px] font-semibold">{TITLES[move.type]?.(name) ?? name}</p>
          <p>
            {move.reason}{' '}
            <span className="text-soft">{move.certainty[0]!.toUpperCase() + move.certainty.slice(1)}.</span>
          </p>
          <p className="figures mt-0.5 text-[13px] text-soft">{sparedWords(move)}</p>
        </div>
        <div className="flex shrink-0 items-center gap-1">
          {rules.length > 0 ? (
            <Button disabled={draft.isPending || drafted} onClick={() => draft.add(rules)}>
              {drafted ? 'Drafted' : 'Draft it'}
            </Button>
          ) : (
            <Link
              to={sheet}
              className="inline-flex h-8 items-center rounded-xs border border-verdigris/60 px-3 font-medium text-verdigris hover:bg-wash"
            >
              Look
            </Link>
          )}
          <Button weight="quiet" aria-label={`Put aside: ${TITLES[move.type]?.(name)}`} onClick={() => setWhy('')}>
            Put aside
          </Button>
        </div>
      </div>
      {why !== null && (
        <form
          className="mt-2 flex gap-2"
          onSubmit={(event) => {
            event.preventDefault()
            dismiss(move.key, why.trim())
          }}
        >
          <input
            autoFocus
            aria-label="Why it is put aside"
            value={why}
            placeholder="Why? It stays aside until you bring it back."
            onChange={(event) => setWhy(event.target.value)}
            className="h-8 min-w-0 flex-1 border border-line bg-sheet px-2"
          />
          <Button type="submit" weight="main">
            Put aside
          </Button>
          <Button weight="quiet" onClick={() => setWhy(null)}>
            Not now
          </Button>
        </form>
      )}
      {spared.pages === 0 && move.type === 'features' && (
        <p className="sr-only">What it spares is known once the switches are off and the site is swept.</p>
      )}
    </li>
  )
}

function sparedWords({ spared, postponed, waitingMs, type }: NextMoveView): string {
  if (type === 'features') return 'What it spares is known once they are off and the site is swept.'
  if (type === 'switched off') return 'No page gets lighter; its code and tables stay until it is taken off.'
  const waits = `${milliseconds(waitingMs)} of waiting in 1,000 page views`
  if (type === 'local' || type === 'first') return `Up to ${waits}, on ${plural(spared.pages, 'page')}; no byte less.`
  const parts = [
    spared.requests > 0 && plural(spared.requests, 'request'),
    spared.transferBytes > 0 && bytes(spared.transferBytes),
    spared.serverMs >= 1 && `${milliseconds(spared.serverMs)} on the server`,
    spared.mainThreadMs >= 1 && `${milliseconds(spared.mainThreadMs)} in the browser`,
  ].filter(Boolean)
  return `${postponed ? 'Comes later' : 'Spares'} ${parts.join(', ')} over ${plural(spared.pages, 'page')}: ${waits}.`
}

function Dismissed({ site, dismissed }: { site: Site; dismissed: Standing['dismissed'] }) {
  const { bringBack } = useDismissal(site)
  return (
    <details className="mt-4">
      <summary className="cursor-pointer text-verdigris">{plural(dismissed.length, 'move')} put aside</summary>
      <ul className="mt-1">
        {dismissed.map(({ move, why }) => (
          <li key={move} className="flex items-baseline gap-3">
            <span>{move.replace(':', ': ')}</span>
            <span className="min-w-0 flex-1 text-soft">{why || 'no reason given'}</span>
            <button type="button" className="text-verdigris hover:underline" onClick={() => bringBack(move)}>
              Bring back
            </button>
          </li>
        ))}
      </ul>
    </details>
  )
}
