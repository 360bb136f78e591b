import { Link } from 'react-router'
import type { AddOn, Site } from '@unvelt/contract'
import { usePageSheet, usePrediction } from '../api/queries.js'
import { MEASURES } from '@unvelt/contract'
import { MEASURE_WORDS, percent, plural } from '../figures/format.js'
import { RequestList } from '../pages/request-list.js'
import { brief, TollFigure } from '../figures/toll-figure.js'
import { ReadNext } from '../frame/read-next.js'
import { BestEffect } from '../rules/best-effect.js'
import { OutOfReachList } from '../rules/out-of-reach.js'
import { Button } from '../parts/button.js'
import { nameOf } from './line-names.js'
import { AddOnFacts } from './add-on-facts.js'
import type { Acts } from './ledger-place.js'
import { pickedFigures, type Picked } from './selection.js'
import { isFound, isPageOwn, type Sheet } from './sheet.js'
import { NamePages } from '../page-sets/name-pages.js'
import { ShorterRules } from './shorter-rules.js'

interface ParticularsProps {
  site: Site
  sheet: Sheet
  addOns: ReadonlyMap<string, AddOn>
  what: Picked
  acts: Acts
  onAct(name: keyof Acts): void
  onSort(sort: string): void
}

/** All about what is selected in the ledger, and what can be done with it. */
export function Particulars({ site, sheet, addOns, what, acts, onAct, onSort }: ParticularsProps) {
  const sweep = sheet.ledger.sweep
  const prediction = usePrediction(site.id, acts.leaveOut, sweep?.id)
  const payer = what.payers.length === 1 ? sheet.ledger.payers[what.payers[0]!]! : null
  const addOn = payer && addOns.get(payer.slug)
  const page = what.columns.length === 1 && !what.columns[0]!.folded ? sheet.ledger.pages[what.pages[0]!]! : null
  const named = (slug: string) => addOns.get(slug)?.name ?? slug
  return (
    <div className="h-full overflow-auto px-4 py-3">
      <h2 className="text-[17px]">{titleOf(sheet, what)}</h2>
      <p className="mt-1 flex flex-wrap gap-x-3 text-[13px]">
        {addOn && (
          <Link
            className="text-verdigris hover:underline"
            to={`/sites/${site.id}/add-ons/${encodeURIComponent(addOn.slug)}`}
          >
            Sheet of {addOn.name}
          </Link>
        )}
        {page && (
          <>
            <Link
              className="text-verdigris hover:underline"
              to={`/sites/${site.id}/pages/${page.id}${sweep ? `?sweep=${sweep.id}` : ''}`}
            >
              Sheet of the page
            </Link>
            <button type="button" className="text-verdigris hover:underline" onClick={() => onSort(String(page.id))}>
              Sort by it
            </button>
          </>
        )}
        {what.scope !== 'rows' && (
          <ReadNext
            site={site.id}
            pageIds={what.pages.filter((page) => isToCome(sheet, page)).map((page) => sheet.ledger.pages[page]!.id)}
          />
        )}
      </p>
      <Tolls sheet={sheet} what={what} spared={acts.leaveOut.length > 0 ? prediction.data?.saved : undefined} />
      {sweep && (
        <p className="mt-1.5 text-[12.5px] text-soft">
          Sweep {sweep.id}, {sweep.lens}, the middle of {plural(sweep.repeats, 'repeat')}, site caches{' '}
          {site.hasConnector ? 'bypassed' : 'as any visitor meets them'}.
          {acts.leaveOut.length > 0 && prediction.data && ' Spared is predicted.'}
        </p>
      )}
      {prediction.error && <p className="mt-2 text-plum">{prediction.error.message}</p>}
      {prediction.data?.staying.map(({ library, neededBy }) => (
        <p key={library} className="mt-2 text-[13px] text-soft">
          {named(library)} stays: {neededBy.map(named).join(', ')} still {neededBy.length === 1 ? 'needs' : 'need'} it.
        </p>
      ))}
      <OutOfReachList files={prediction.data?.outOfReach ?? []} named={named} />
      <Actions site={site} sheet={sheet} what={what} acts={acts} onAct={onAct} />
      <NamePages siteId={site.id} place={acts.leaveOut[0]?.place} />
      <ShorterRules site={site} plain={acts.leaveOut} />
      {addOn && page && acts.leaveOut.length > 0 && <BestEffect siteId={site.id} addon={addOn} pageId={page.id} />}
      {payer && !isPageOwn(payer) && addOn && (
        <AddOnFacts site={site} sheet={sheet} addOn={addOn} what={what} named={named} />
      )}
      {page && <Requests site={site} sheet={sheet} what={what} pageId={page.id} />}
    </div>
  )
}

const isToCome = (sheet: Sheet, page: number) => sheet.lacking(page, 'mainThreadMs') !== null

function titleOf({ ledger }: Sheet, { scope, lines, columns, pages }: Picked): string {
  const who = lines.length === 1 ? nameOf(lines[0]!) : plural(lines.length, 'row')
  if (scope === 'rows') return `${who}, everywhere`
  const [first] = columns
  if (scope === 'kind' || (columns.length === 1 && first?.folded))
    return scope === 'kind' ? `Every page of kind ${first!.kind}` : `${who} on every ${first!.kind}`
  const where = pages.length === 1 ? ledger.pages[pages[0]!]!.title : plural(pages.length, 'page')
  return scope === 'columns' ? where : `${who} on ${where}`
}

function Tolls({ sheet, what, spared }: { sheet: Sheet; what: Picked; spared: Record<string, number> | undefined }) {
  const { tolls, pages } = pickedFigures(sheet, what)
  return (
    <table className="figures mt-2 w-full">
      <thead>
        <tr className="border-b border-line text-[12.5px] text-soft">
          <th className="py-1 text-left font-normal">Toll</th>
          <th className="py-1 text-right font-normal">measured</th>
          <th className="py-1 text-right font-normal">of page</th>
          {spared && <th className="py-1 text-right font-normal">spared</th>}
        </tr>
      </thead>
      <tbody>
        {MEASURES.map((measure) => (
          <tr key={measure} className="border-b border-line/60">
            <th className="py-0.5 text-left font-normal">{MEASURE_WORDS[measure].name}</th>
            <td className="py-0.5 text-right font-semibold whitespace-nowrap">
              <TollFigure measure={measure} value={tolls[measure]} told={sheet.tells(measure)} />
            </td>
            <td className="py-0.5 pl-2 text-right whitespace-nowrap text-soft">
              {percent(tolls[measure] / pages[measure])}
            </td>
            {spared && (
              <td className="py-0.5 pl-2 text-right whitespace-nowrap text-verdigris">
                {spared[measure] ? `−${brief(measure, spared[measure])}` : '0'}
              </td>
            )}
          </tr>
        ))}
      </tbody>
    </table>
  )
}

const ACTS: [keyof Acts, string][] = [
  ['leaveOut', 'Leave out here'],
  ['onlyHere', 'Only here'],
  ['hold', 'Hold'],
  ['keep', 'Keep'],
]

function Actions({
  site,
  sheet,
  what,
  acts,
  onAct,
}: {
  site: Site
  sheet: Sheet
  what: Picked
  acts: Acts
  onAct(name: keyof Acts): void
}) {
  const selected = what.payers.map((payer) => sheet.ledger.payers[payer]!)
  if (acts.leaveOut.length === 0)
    return (
      <p className="mt-3 border-t border-line pt-3 text-soft">
        {selected.some(isFound)
          ? 'No rule can reach this: the site did not announce it as an add-on. What brings it in can be left out.'
          : 'This belongs to the page itself; there is nothing to leave out.'}
      </p>
    )
  return (
    <section aria-label="Actions" className="mt-3 border-t border-line pt-3">
      <div className="grid grid-cols-2 gap-2">
        {ACTS.map(([name, words], index) => (
          <Button
            key={name}
            weight={index === 0 ? 'main' : 'plain'}
            disabled={acts[name].length === 0}
            onClick={() => onAct(name)}
          >
            {words}
          </Button>
        ))}
      </div>
      <p className="mt-2 text-[12.5px] text-soft">
        {effectNote(acts)}
        {!site.hasConnector && ' Drafts are rehearsed on the real pages; going live needs a connector.'}
        {selected.length > acts.leaveOut.length && ' The page’s own rows are left as they are.'}
      </p>
    </section>
  )
}

function effectNote({ leaveOut }: Acts): string {
  const effects = new Set(leaveOut.map((rule) => rule.effect))
  if (effects.size > 1)
    return 'Where the site can, it won’t run the add-ons at all; of the others only the files are left out.'
  return effects.has('skip')
    ? 'Left out, the site won’t run it for these pages: no server time, no files.'
    : 'Left out, its files won’t be put in the page; the site still runs it.'
}

function Requests({ site, sheet, what, pageId }: { site: Site; sheet: Sheet; what: Picked; pageId: number }) {
  const page = usePageSheet(site.id, pageId, sheet.ledger.sweep?.id)
  if (!page.data) return null
  const payers = new Set(what.payers.map((payer) => sheet.ledger.payers[payer]!.slug))
  const requests = page.data.requests.filter((request) => payers.has(request.payer))
  if (requests.length === 0) return null
  return (
    <section className="mt-4 border-t border-line pt-3">
      <h3 className="text-[15px]">{plural(requests.length, 'request')}</h3>
      <RequestList requests={requests} />
    </section>
  )
}
