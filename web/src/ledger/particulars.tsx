import { toast } from 'sonner'
import { MEASURES, type Effect, type RuleInput, type Site } from '@unvelt/contract'
import { useChangeDrafts, usePageSheet, usePrediction } from '../api/queries.js'
import { MEASURE_WORDS, percent, plural } from '../figures/format.js'
import { RequestList } from '../pages/request-list.js'
import { Button } from '../parts/button.js'
import { SavingTable } from '../rules/saving.js'
import { isAddOn, type Matrix } from './matrix.js'
import { selectedFigures } from './selected-figures.js'
import { boundsOf, rulesFor, type Selection } from './selection.js'

interface ParticularsProps {
  site: Site
  matrix: Matrix
  selection: Selection | null
  leaveOutRules: RuleInput[]
  onLeaveOut(): void
}

/** All about what is selected in the ledger, and what can be done with it. */
export function Particulars({ site, matrix, selection, leaveOutRules, onLeaveOut }: ParticularsProps) {
  if (!selection) return <Hints />
  const sweep = matrix.ledger.sweep
  return (
    <div className="h-full overflow-auto px-4 py-3">
      <h2 className="text-[17px]">{titleOf(matrix, selection)}</h2>
      <Tolls matrix={matrix} selection={selection} />
      {sweep && (
        <p className="mt-1.5 text-[12.5px] text-soft">
          Sweep {sweep.id}, the middle of {plural(sweep.repeats, 'repeat')}, site caches bypassed.
        </p>
      )}
      <Actions site={site} matrix={matrix} selection={selection} rules={leaveOutRules} onLeaveOut={onLeaveOut} />
      <Requests site={site} matrix={matrix} selection={selection} />
    </div>
  )
}

function Hints() {
  return (
    <div className="px-4 py-3 text-soft">
      <h2 className="text-[17px] text-ink">Particulars</h2>
      <p className="mt-2">Select a cell, drag over several, or press the name of an add-on, a page or a kind.</p>
      <dl className="mt-4 grid grid-cols-[auto_1fr] gap-x-3 gap-y-1">
        {[
          ['Arrows', 'move'],
          ['Shift + arrows', 'select a rectangle'],
          ['Ctrl + arrows', 'jump to the edge'],
          ['L', 'leave out here'],
          ['Esc', 'select nothing'],
        ].map(([key, does]) => (
          <div key={key} className="contents">
            <dt className="text-ink">{key}</dt>
            <dd>{does}</dd>
          </div>
        ))}
      </dl>
      <dl className="mt-5 grid grid-cols-[auto_1fr] items-center gap-x-3 gap-y-2">
        <dt className="hatched h-4 w-8" />
        <dd>a live rule unloads it</dd>
        <dt className="h-4 w-8 border-[1.5px] border-dashed border-ink" />
        <dd>a draft would</dd>
      </dl>
    </div>
  )
}

function titleOf({ rows, columns }: Matrix, selection: Selection): string {
  const { top, bottom, left, right } = boundsOf(selection)
  const who = top === bottom ? rows[top]!.name : plural(bottom - top + 1, 'row')
  const kind = columns[left]!.kind
  if (selection.scope === 'rows') return `${who}, everywhere`
  if (selection.scope === 'kind') return `Every page of kind ${kind}`
  if (selection.scope === 'columns') return columns[left]!.title
  return `${who} on ${left === right ? columns[left]!.title : plural(right - left + 1, 'page')}`
}

function Tolls({ matrix, selection }: { matrix: Matrix; selection: Selection }) {
  const { tolls, pages } = selectedFigures(matrix, selection)
  return (
    <table className="figures mt-2 w-full">
      <thead>
        <tr className="border-b border-line text-[12.5px] text-soft">
          <th className="py-1 text-left font-normal">Toll</th>
          <th className="py-1 text-right font-normal">measured</th>
          <th className="py-1 text-right font-normal">of page</th>
        </tr>
      </thead>
      <tbody>
        {MEASURES.map((measure) => (
          <tr key={measure} className="border-b border-line/60">
            <th className="py-1 text-left font-normal">{MEASURE_WORDS[measure].name}</th>
            <td className="py-1 text-right font-semibold">{MEASURE_WORDS[measure].long(tolls[measure])}</td>
            <td className="py-1 pl-3 text-right text-soft">{percent(tolls[measure] / pages[measure])}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

interface ActionsProps {
  site: Site
  matrix: Matrix
  selection: Selection
  rules: RuleInput[]
  onLeaveOut(): void
}

function Actions({ site, matrix, selection, rules, onLeaveOut }: ActionsProps) {
  const change = useChangeDrafts(site.id)
  const prediction = usePrediction(site.id, rules, matrix.ledger.sweep?.id)
  const { top, bottom } = boundsOf(selection)
  const selected = matrix.rows.slice(top, bottom + 1)
  const named = (slug: string) => matrix.rows.find((row) => row.slug === slug)?.name ?? slug
  if (rules.length === 0)
    return (
      <p className="mt-4 border-t border-line pt-3 text-soft">
        {selected.some((row) => row.slug.startsWith('outside:'))
          ? 'No rule can reach this: the site did not announce it as an add-on. What brings it in can be left out.'
          : 'This belongs to the page itself; there is nothing to leave out.'}
      </p>
    )
  const keep = () =>
    change.mutate(
      { do: 'add', rules: rulesFor(selection, matrix.rows, matrix.columns, () => 'keep') },
      { onError: (error) => toast.error(error.message) },
    )
  return (
    <section aria-label="Actions" className="mt-4 border-t border-line pt-3">
      {prediction.data && <SavingTable prediction={prediction.data} />}
      {prediction.error && <p className="text-plum">{prediction.error.message}</p>}
      {prediction.data?.staying.map(({ library, neededBy }) => (
        <p key={library} className="mt-2 text-[13px] text-soft">
          {named(library)} stays: {neededBy.map(named).join(', ')} still {neededBy.length === 1 ? 'needs' : 'need'} it.
        </p>
      ))}
      {selected.length > rules.length && selected.some((row) => !isAddOn(row)) && (
        <p className="mt-2 text-[13px] text-soft">The page’s own rows are left as they are.</p>
      )}
      <div className="mt-3 flex gap-2">
        <Button weight="main" disabled={change.isPending} onClick={onLeaveOut}>
          Leave out here
        </Button>
        <Button disabled={change.isPending} onClick={keep}>
          Keep
        </Button>
      </div>
      <p className="mt-2 text-[12.5px] text-soft">{effectNote(rules)}</p>
    </section>
  )
}

function effectNote(rules: RuleInput[]): string {
  const effects = new Set<Effect>(rules.map((rule) => rule.effect))
  if (effects.size > 1)
    return 'Where the site can, it won’t run the add-ons at all; of the others only the files are left out.'
  return effects.has('skip')
    ? 'The site won’t run it for these pages: no server time, no files.'
    : 'Its files won’t be put in the page; the site still runs it.'
}

function Requests({ site, matrix, selection }: { site: Site; matrix: Matrix; selection: Selection }) {
  const { top, bottom, left, right } = boundsOf(selection)
  const page = left === right ? matrix.columns[left] : undefined
  const sheet = usePageSheet(site.id, page?.id, matrix.ledger.sweep?.id)
  if (!page || !sheet.data) return null
  const payers = new Set(matrix.rows.slice(top, bottom + 1).map((row) => row.slug))
  const requests = sheet.data.requests.filter((request) => payers.has(request.payer))
  if (requests.length === 0) return null
  return (
    <section className="mt-4 border-t border-line pt-3">
      <h3 className="text-[15px]">{plural(requests.length, 'request')}</h3>
      <RequestList requests={requests} />
    </section>
  )
}
