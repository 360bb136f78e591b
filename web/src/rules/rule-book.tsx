import { useVirtualizer } from '@tanstack/react-virtual'
import clsx from 'clsx'
import { useMemo, useRef, useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import type { RuleView, Site } from '@unvelt/contract'
import { plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { lazily } from '../parts/lazily.js'
import { useRemembered } from '../parts/remembered.js'
import { BulkChange } from './bulk-change.js'
import { RuleFileButtons } from './rule-file.js'
import {
  asLive,
  filtered,
  GROUPINGS,
  inputOf,
  lines,
  sorted,
  type Grouping,
  type RuleRow,
  type SortKey,
} from './rule-rows.js'
import { GRID, RuleBookRow } from './rule-book-row.js'
import { aboutIn, withoutAbout } from './rule-values.js'
import { useDraft } from './use-draft.js'
import { useSavings } from './use-savings.js'
import { subjectWords } from './words.js'

const RuleForm = lazily(async () => (await import('./rule-form.js')).RuleForm)

const ROW_PX = 34
const COLUMNS: [SortKey, string][] = [
  ['subject', 'What'],
  ['effect', 'is'],
  ['place', 'where and for whom'],
  ['made', 'since'],
]

/** Every rule, as it is and as it would be, to be found, changed and removed: one by one, or many at once. */
export function RuleBook({ site, rows }: { site: Site; rows: RuleRow[] }) {
  const draft = useDraft(site.id)
  const [text, setText] = useState('')
  const [grouping, setGrouping] = useRemembered<Grouping>('unvelt.rules.grouping', 'add-on')
  const [sort, setSort] = useState<{ key: SortKey; descending: boolean }>({ key: 'subject', descending: false })
  const [picked, setPicked] = useState<ReadonlySet<string>>(new Set())
  /** The rule that is changed; `new` for one that is not there yet. */
  const [open, setOpen] = useState<RuleView | 'new' | null>(null)
  const [search, setSearch] = useSearchParams()
  const about = aboutIn(search)
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
  const visible = virtual.getVirtualItems()
  const ids = useMemo(() => all.map((line) => ('row' in line ? line.row.rule.id : '')), [all])
  const savings = useSavings(site.id, ids, visible[0]?.index ?? 0, visible.at(-1)?.index ?? -1)
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
  const head = ([key, name]: [SortKey, string]) => (
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
  )
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
        <div className="relative overflow-x-auto">
          <div role="table" aria-label="Rules" aria-rowcount={rows.length} className="min-w-[880px]">
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
              {COLUMNS.slice(0, 3).map((column) => head(column))}
              <span
                role="columnheader"
                className="text-right"
                title="On the mean page that it holds on, by the newest sweep that was read without it"
              >
                spares a page
              </span>
              {COLUMNS.slice(3).map((column) => head(column))}
              <span role="columnheader">note</span>
              <span role="columnheader">
                <span className="sr-only">What can be done</span>
              </span>
            </div>
            <div ref={scroller} className="max-h-[46dvh] overflow-auto">
              <div style={{ height: virtual.getTotalSize() }} className="relative">
                {visible.map(({ index, start, size }) => {
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
                    <RuleBookRow
                      key={line.row.rule.id}
                      style={style}
                      row={line.row}
                      saving={savings.get(line.row.rule.id)}
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
      {(open !== null || about) && (
        <RuleForm
          site={site}
          rule={open === 'new' ? null : open}
          about={about}
          rules={asLive(rows)}
          onClose={() => {
            setOpen(null)
            if (about) setSearch(withoutAbout, { replace: true })
          }}
        />
      )}
    </section>
  )
}
