import { ArrowLeftRight } from 'lucide-react'
import type { Comparison, Site } from '@unvelt/contract'
import { useComparison } from '../api/comparison.js'
import { useSites, useSweeps } from '../api/queries.js'
import { useSite } from '../frame/site-context.js'
import { Button } from '../parts/button.js'
import { download } from '../parts/download.js'
import { Failed, Loading, Notice } from '../parts/notice.js'
import { PlaceHead } from '../parts/place-head.js'
import { useAddress } from '../parts/use-address.js'
import { ViewNav } from '../parts/view-nav.js'
import { chosenSweeps, surveysOf } from './chosen-sweeps.js'
import { ComparedPages } from './compared-pages.js'
import { ComparedPayers } from './compared-payers.js'
import { comparisonCsv } from './comparison-csv.js'
import { DiffersBesides } from './differs-besides.js'
import { isChanged } from './is-changed.js'
import { MeanPage } from './mean-page.js'
import { SweepChoice } from './sweep-choice.js'

const ASKED = ['kind', 'path', 'weigh', 'outsiders'] as const

/** Two sweeps side by side: what the mean page costs more or less, whose doing that is, and on which pages. */
export function TwoSweepsPlace() {
  const site = useSite()
  const sites = useSites()
  const [search, write] = useAddress()
  const nowOf = Number(search.get('nowOf')) || site.id
  const thenOf = Number(search.get('thenOf')) || site.id
  const [nows, thens] = [useSweeps(nowOf), useSweeps(thenOf)]
  const asked = (name: string) => Number(search.get(name)) || null
  const sides = {
    now: { sweeps: surveysOf(nows.data ?? []), asked: asked('now') },
    then: { sweeps: surveysOf(thens.data ?? []), asked: asked('then') },
  }
  const { now, then } = chosenSweeps(sides.now, sides.then)
  const query = new URLSearchParams({ now: String(now), then: String(then) })
  for (const name of ASKED) if (search.get(name)) query.set(name, search.get(name)!)
  const isChosen = now !== null && then !== null && !nows.isPending && !thens.isPending
  const comparison = useComparison(site.id, isChosen ? query.toString() : null)
  if (nows.isPending || thens.isPending || sites.isPending) return <Loading what="the sweeps" />
  const failed = [nows, thens, sites].find(({ isError }) => isError)
  if (failed) return <Failed error={failed.error!} retry={() => void failed.refetch()} />
  if (sites.data!.length < 2 && (now === null || then === null))
    return (
      <Notice title="There are no two sweeps yet">
        Sweep the site once more after something has changed, and the two can be set side by side.
      </Notice>
    )
  const set = (changes: Record<string, number | string | null>) =>
    write((old) => {
      const next = new URLSearchParams(old)
      for (const [name, value] of Object.entries({ now, then, ...changes })) {
        if (value === null) next.delete(name)
        else next.set(name, String(value))
      }
      return next
    })
  const side = (name: 'now' | 'then', of: number) => (
    <SweepChoice
      label={name === 'now' ? 'Now' : 'Then'}
      sites={sites.data!}
      siteId={of}
      sweeps={sides[name].sweeps}
      chosen={name === 'now' ? now : then}
      onSite={(id) => set({ [`${name}Of`]: id, [name]: null })}
      onChoose={(id) => set({ [name]: id })}
    />
  )
  return (
    <div className="h-full overflow-auto">
      <PlaceHead
        title="Two sweeps side by side"
        action={
          <div className="flex shrink-0 gap-2">
            <Button disabled={!isChosen} onClick={() => set({ now: then, then: now, nowOf: thenOf, thenOf: nowOf })}>
              <ArrowLeftRight size={15} aria-hidden /> Swap sides
            </Button>
            <Button disabled={!comparison.data || !isChosen} onClick={() => save(comparison.data!)}>
              Save as CSV
            </Button>
          </div>
        }
      >
        What the mean page costs more or less, whose doing that is, and on which pages.
      </PlaceHead>
      <div className="grid grid-cols-2 gap-x-6 gap-y-2 border-b border-line px-4 py-3 max-md:grid-cols-1">
        {side('then', thenOf)}
        {side('now', nowOf)}
      </div>
      {!isChosen && <p className="px-4 py-6">Choose two sweeps.</p>}
      {comparison.isError && <Failed error={comparison.error} retry={() => void comparison.refetch()} />}
      {isChosen && comparison.isPending && <Loading what="both sweeps" />}
      {isChosen && comparison.data && !comparison.isError && (
        <SideBySide site={site} comparison={comparison.data} search={search} set={set} />
      )}
    </div>
  )
}

const save = (comparison: Comparison) =>
  download(
    `sweep-${comparison.now.sweepId}-against-${comparison.then.sweepId}.csv`,
    new Blob([comparisonCsv(comparison)], { type: 'text/csv' }),
  )

interface SideBySideProps {
  site: Site
  comparison: Comparison
  search: URLSearchParams
  set: (changes: Record<string, number | string | null>) => void
}

function SideBySide({ site, comparison, search, set }: SideBySideProps) {
  const { pages, payers, kinds, visitsKnown } = comparison
  const view = search.get('view') === 'pages' ? 'pages' : 'payers'
  const path = search.get('path')
  return (
    <>
      <DiffersBesides comparison={comparison} />
      <div className="flex flex-wrap items-center gap-x-5 gap-y-2 px-4 pt-3 text-[14px]">
        <label className="flex items-center gap-2">
          Pages
          <select
            className="h-8 border border-line bg-sheet px-2"
            value={path !== null ? 'one' : (search.get('kind') ?? '')}
            onChange={({ target }) => set({ kind: target.value === '' ? null : target.value, path: null })}
          >
            <option value="">all that both have read</option>
            {path !== null && <option value="one">{path} alone</option>}
            {kinds.map((kind) => (
              <option key={kind} value={kind}>
                of kind {kind}
              </option>
            ))}
          </select>
        </label>
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            checked={search.get('weigh') === 'visits'}
            disabled={!visitsKnown}
            onChange={({ target }) => set({ weigh: target.checked ? 'visits' : null })}
          />
          Each page by its visits{!visitsKnown && ', which are not known'}
        </label>
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            checked={search.get('outsiders') !== 'out'}
            onChange={({ target }) => set({ outsiders: target.checked ? null : 'out' })}
          />
          Other companies’ hosts counted in
        </label>
      </div>
      {pages.length === 0 ? (
        <p className="px-4 py-6">No page was read by both. Choose other sweeps, or all pages.</p>
      ) : (
        <>
          <MeanPage comparison={comparison} />
          <ViewNav
            label="What differs"
            shown={view}
            views={[
              {
                key: 'payers',
                name: 'Whose doing',
                more: <span className="text-soft">{payers.filter(isChanged).length}</span>,
              },
              { key: 'pages', name: 'On which pages', more: <span className="text-soft">{pages.length}</span> },
            ]}
          />
          {view === 'payers' ? (
            <ComparedPayers site={site} comparison={comparison} />
          ) : (
            <ComparedPages site={site} comparison={comparison} onlyThis={(one) => set({ path: one, kind: null })} />
          )}
        </>
      )}
    </>
  )
}
