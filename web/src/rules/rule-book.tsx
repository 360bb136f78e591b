import { useVirtualizer } from '@tanstack/react-virtual'
import clsx from 'clsx'
import { useMemo, useRef, useState } from 'react'
import { Link } from 'react-router'
import type { RuleView, Site } from '@unvelt/contract'
import { plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { useRemembered } from '../parts/remembered.js'
import { BulkChange } from './bulk-change.js'
import { RuleFileButtons } from './rule-file.js'
import { RuleForm } from './rule-form.js'
import {
  filtered,
  GROUPINGS,
  inputOf,
  lines,
  placeAndVisit,
  sorted,
  type Grouping,
  type RuleRow,
  type SortKey,
} from './rule-rows.js'
import { useDraft } from './use-draft.js'
import { effectWords, subjectWords } from './words.js'

const ROW_PX = 34
const COLUMNS: [SortKey, string][] = [
  ['subject', 'What'],
  ['effect', 'is'],
  ['place', 'where and for whom'],
  ['made', 'since'],
]
const GRID =
  'grid grid-cols-[28px_minmax(0,2.2fr)_minmax(0,1.6fr)_minmax(0,2.4fr)_92px_minmax(0,1.6fr)_172px] gap-3 px-4'
const STATE_WORDS = { live: '', draft: 'draft', goes: 'draft: goes' }

/** Every rule, as it is and as it would be, to be found, changed and removed: one by one, or many at once. */
export function RuleBook({ site, rows }: { site: Site; rows: RuleRow[] }) {
  const draft = useDraft(site.id)
  const [text, setText] = useState('')
  const [grouping, setGrouping] = useRemembered<Grouping>('unvelt.rules.grouping', 'add-on')
  const [sort, setSort] = useState<{ key: SortKey; descending: boolean }>({ key: 'subject', descending: false })
  const [picked, setPicked] = useState<ReadonlySet<string>>(new Set())
  /** The rule that is changed; `new` for one that is not there yet. */
  const [open, setOpen] = useState<RuleView | 'new' | null>(null)
  const found = useMemo(() => filtered(rows, text), [rows, text])
  const all = useMemo(() => lines(sorted(found, sort.key, sort.descending), grouping), [found, sort, grouping])
  const scroller = useRef<HTMLDivElement>(null)
  // eslint-disable-next-line react-hooks/incompatible-library
  const virtual = useVirtualizer({
    count: all.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_PX,
    overscan: 12,
  })
  const chosen = found.filter(({ rule }) => picked.has(rule.id))
  const toggle = (ids: readonly string[], on: boolean) =>
    setPicked((old) => {
      const next = new Set(old)
      for (const id of ids)
        if (on) next.add(id)
        else next.delete(id)
      return next
    })
  const remove = (some: readonly RuleRow[]) => {
    draft.replace(
      some.flatMap(({ rule, state, was }) =>
        state === 'live' || was !== null ? [{ ...inputOf(was ?? rule), removed: true }] : [],
      ),
      some.filter(({ state, was }) => state === 'draft' && was === null).map(({ rule }) => rule.id),
      some.length === 1 ? `${subjectWords(some[0]!.rule)} is drafted to go` : `${some.length} rules are drafted to go`,
    )
    setPicked(new Set())
  }
  const withdraw = ({ rule }: RuleRow) =>
    draft.replace([], [rule.id], `The draft on ${subjectWords(rule)} is withdrawn`)
  return (
    <section aria-label="All rules" className="border-b border-line pb-4">
      <div className="flex flex-wrap items-center gap-3 px-4 pt-4 pb-2">
        <h2 className="text-[17px]">{plural(rows.length, 'rule')}</h2>
        <input
          type="search"
          aria-label="Find rules"
          placeholder="Find: an add-on, a path, a note"
          value={text}
          onChange={({ target }) => setText(target.value)}
          className="h-8 w-72 border border-line bg-sheet px-2"
        />
        <label className="flex items-center gap-2 text-soft">
          by
          <select
            value={grouping}
            onChange={({ target }) => setGrouping(target.value as Grouping)}
            className="h-8 border border-line bg-sheet px-2 text-ink"
          >
            {GROUPINGS.map((one) => (
              <option key={one} value={one}>
                {one === 'nothing' ? 'no grouping' : one}
              </option>
            ))}
          </select>
        </label>
        <div className="ml-auto flex items-center gap-2">
          {chosen.length > 0 && (
            <>
              <Button weight="danger" disabled={draft.isPending} onClick={() => remove(chosen)}>
                Draft that they go
              </Button>
            </>
          )}
          <RuleFileButtons site={site} />
          <Button onClick={() => setOpen('new')}>A new rule …</Button>
        </div>
      </div>
      {chosen.length > 0 && <BulkChange site={site} chosen={chosen} onDone={() => setPicked(new Set())} />}
      {rows.length > 0 && (
        <div role="table" aria-label="Rules" aria-rowcount={rows.length}>
          <div role="row" className={clsx(GRID, 'items-center border-b border-line py-1 text-soft')}>
            <span role="columnheader">
              <input
                type="checkbox"
                aria-label="Choose all that are shown"
                checked={chosen.length > 0 && chosen.length === found.length}
                onChange={({ target }) =>
                  toggle(
                    found.map(({ rule }) => rule.id),
                    target.checked,
                  )
                }
              />
            </span>
            {COLUMNS.map(([key, name]) => (
              <span
                key={key}
                role="columnheader"
                aria-sort={sort.key !== key ? 'none' : sort.descending ? 'descending' : 'ascending'}
              >
                <button
                  type="button"
                  className="hover:text-ink"
                  onClick={() => setSort({ key, descending: sort.key === key && !sort.descending })}
                >
                  {name}{' '}
                  <span aria-hidden className="text-verdigris">
                    {sort.key === key && (sort.descending ? '↓' : '↑')}
                  </span>
                </button>
              </span>
            ))}
            <span role="columnheader">note</span>
            <span role="columnheader" aria-label="What can be done" />
          </div>
          <div ref={scroller} className="max-h-[46dvh] overflow-auto">
            <div style={{ height: virtual.getTotalSize() }} className="relative">
              {virtual.getVirtualItems().map(({ index, start, size }) => {
                const line = all[index]!
                const style = { height: size, transform: `translateY(${start}px)` }
                if ('heading' in line)
                  return (
                    <div
                      key={`heading ${line.heading}`}
                      style={style}
                      className="absolute inset-x-0 top-0 flex items-end px-4 pb-1"
                    >
                      <b className="font-semibold">{line.heading}</b>
                      <span className="figures ml-2 text-soft">{line.count}</span>
                    </div>
                  )
                return (
                  <Row
                    key={line.row.rule.id}
                    style={style}
                    row={line.row}
                    isGrouped={grouping === 'add-on'}
                    isPicked={picked.has(line.row.rule.id)}
                    onPick={(on) => toggle([line.row.rule.id], on)}
                    onChange={() => setOpen(line.row.rule)}
                    onRemove={() => (line.row.state === 'live' ? remove([line.row]) : withdraw(line.row))}
                  />
                )
              })}
            </div>
          </div>
          {found.length === 0 && <p className="px-4 py-3 text-soft">No rule has all of these words.</p>}
        </div>
      )}
      {rows.length === 0 && (
        <p className="px-4 pb-2 text-soft">
          No rule is live, and none is drafted. Select cells in the{' '}
          <Link to={`/sites/${site.id}/ledger`} className="text-verdigris underline underline-offset-2">
            ledger
          </Link>{' '}
          and leave something out, or write a rule here.
        </p>
      )}
      {open !== null && <RuleForm site={site} rule={open === 'new' ? null : open} onClose={() => setOpen(null)} />}
    </section>
  )
}

interface RowProps {
  style: { height: number; transform: string }
  row: RuleRow
  /** Its add-on stands above it. */
  isGrouped: boolean
  isPicked: boolean
  onPick(on: boolean): void
  onChange(): void
  onRemove(): void
}

function Row({ style, row: { rule, state, was }, isGrouped, isPicked, onPick, onChange, onRemove }: RowProps) {
  const subject = subjectWords(rule)
  const part = isGrouped ? subject.slice(rule.addonName.length).replace(/^, /, '') || 'all of it' : subject
  const goes = state === 'goes'
  return (
    <div
      role="row"
      style={style}
      className={clsx(GRID, 'absolute inset-x-0 top-0 items-center border-t border-line/60 hover:bg-sheet')}
    >
      <span role="cell" className="flex">
        <input
          type="checkbox"
          aria-label={`Choose ${subject} ${placeAndVisit(rule)}`}
          checked={isPicked}
          onChange={({ target }) => onPick(target.checked)}
        />
      </span>
      <span
        role="cell"
        className={clsx('truncate', !isGrouped && 'font-semibold', goes && 'line-through')}
        title={subject}
      >
        {part}
      </span>
      <span role="cell" className={clsx('truncate', goes && 'line-through')} title={effectWords(rule)}>
        {effectWords(rule)}
        {was && effectWords(was) !== effectWords(rule) && <span className="text-soft"> (was {effectWords(was)})</span>}
      </span>
      <span role="cell" className={clsx('truncate', goes && 'line-through')} title={placeTitle(rule)}>
        {placeAndVisit(rule)}
      </span>
      <span role="cell" className="figures truncate text-soft">
        {STATE_WORDS[state] ? <span className="text-verdigris">{STATE_WORDS[state]}</span> : (rule.made ?? '')}
      </span>
      <span role="cell" className="truncate text-[13px] text-soft" title={noteWords(rule)}>
        {noteWords(rule)}
      </span>
      <span role="cell" className="flex justify-end">
        {!goes && (
          <Button
            weight="quiet"
            className="h-7 px-2"
            aria-label={`Change ${subject} ${placeAndVisit(rule)}`}
            onClick={onChange}
          >
            Change
          </Button>
        )}
        <Button
          weight="quiet"
          className="h-7 px-2"
          aria-label={`${goes ? 'Keep' : state === 'live' ? 'Remove' : 'Withdraw'} ${subject} ${placeAndVisit(rule)}`}
          onClick={onRemove}
        >
          {goes ? 'Keep' : state === 'live' ? 'Remove' : 'Withdraw'}
        </Button>
      </span>
    </div>
  )
}

const noteWords = ({ note, author, expires }: RuleView) =>
  [note, author && `(${author})`, expires && `until ${expires}`].filter(Boolean).join(' ')
const placeTitle = ({ place }: RuleView) => (place.level === 'set' ? place.paths.join('\n') : undefined)
