import { Grid3x3, ListFilter, Rows3, X } from 'lucide-react'
import type { ReactNode } from 'react'
import { KINDS, MEASURES, VERDICTS } from '@unvelt/contract'
import { MEASURE_WORDS } from '../figures/format.js'
import { BASES, type Basis } from './weighing.js'
import { GROUPINGS, isFiltered, NO_FILTERS, USE_FILTERS, type Grouping, type View } from './view-state.js'
import { PopUp } from '../parts/pop-up.js'
import { FilterText } from '../parts/filter-text.js'

const BASIS_WORDS: Record<Basis, string> = {
  measured: 'as measured',
  share: 'share of the page',
  visits: 'weighted by visits',
}
const GROUP_WORDS: Record<Grouping, string> = {
  none: 'not grouped',
  kind: 'by kind',
  job: 'by job',
  verdict: 'by verdict',
}

interface ToolbarProps {
  view: View
  onChange(change: Partial<View>): void
  hidden: number
  allFolded: boolean
  onFoldAll(): void
}

/** What the cells show, and which rows there are. */
export function Toolbar({ view, onChange, hidden, allFolded, onFoldAll }: ToolbarProps) {
  return (
    <div className="border-b border-line px-4">
      <div role="radiogroup" aria-label="Measure" className="flex gap-4 overflow-hidden max-md:overflow-x-auto">
        {MEASURES.map((name) => (
          <label
            key={name}
            className="relative -mx-1 border-b-2 border-transparent px-1 py-1.5 whitespace-nowrap text-soft hover:text-ink has-checked:border-verdigris has-checked:font-semibold has-checked:text-ink has-focus-visible:outline-2 has-focus-visible:-outline-offset-2 has-focus-visible:outline-verdigris"
          >
            <input
              type="radio"
              name="measure"
              value={name}
              checked={view.measure === name}
              onChange={() => onChange({ measure: name })}
              className="absolute inset-0 cursor-pointer appearance-none outline-none"
            />
            {MEASURE_WORDS[name].name}
          </label>
        ))}
      </div>
      <div className="flex min-h-9 flex-wrap items-center gap-x-3 gap-y-1 border-t border-line/60 py-1 text-[13px]">
        <FilterText
          id="ledger-filter"
          label="Filter add-ons by text"
          placeholder="Filter add-ons"
          className="w-36"
          text={view.text}
          onChange={(text) => onChange({ text })}
        />
        <Filters view={view} onChange={onChange} />
        <Plain label="Figures" value={view.basis} onChange={(basis) => onChange({ basis: basis as Basis })}>
          {BASES.map((basis) => [basis, BASIS_WORDS[basis]])}
        </Plain>
        <Plain label="Rows" value={view.rows} onChange={(rows) => onChange({ rows: rows as Grouping })}>
          {GROUPINGS.map((grouping) => [grouping, GROUP_WORDS[grouping]])}
        </Plain>
        <button
          type="button"
          onClick={onFoldAll}
          className="flex items-center gap-1 whitespace-nowrap text-verdigris hover:underline"
        >
          <Rows3 size={14} aria-hidden className="rotate-90" /> {allFolded ? 'Unfold pages' : 'Fold pages'}
        </button>
        <button
          type="button"
          aria-pressed={view.far}
          onClick={() => onChange({ far: !view.far })}
          className="flex items-center gap-1 whitespace-nowrap text-verdigris hover:underline"
        >
          <Grid3x3 size={14} aria-hidden /> {view.far ? 'Close view' : 'Far view'}
        </button>
        {isFiltered(view) && (
          <span className="ml-auto truncate text-soft" role="status">
            {hidden === 0 ? 'Nothing hidden' : `${hidden} hidden`} ·{' '}
            <button type="button" className="text-verdigris hover:underline" onClick={() => onChange(NO_FILTERS)}>
              show all
            </button>
          </span>
        )}
      </div>
    </div>
  )
}

const PILL = 'flex items-center gap-1 border border-line bg-sheet pl-2 whitespace-nowrap'

function Filters({ view, onChange }: Pick<ToolbarProps, 'view' | 'onChange'>) {
  const on =
    [view.kind, view.verdict, view.use].filter((each) => each !== null).length +
    Number(view.least > 0) +
    Number(view.hideRest)
  return (
    <PopUp
      align="start"
      label="Filters"
      className="grid w-96 gap-2.5 p-4 pr-9 text-[13px]"
      button={
        <button type="button" className="flex items-center gap-1 text-verdigris hover:underline">
          <ListFilter size={14} aria-hidden /> {on === 0 ? 'Filters' : `${on} ${on === 1 ? 'filter' : 'filters'}`}
        </button>
      }
    >
      {(close) => (
        <>
          <Field label="Kind of add-on" value={view.kind} any="any kind" onChange={(kind) => onChange({ kind })}>
            {KINDS}
          </Field>
          <Field label="Verdict" value={view.verdict} any="any verdict" onChange={(verdict) => onChange({ verdict })}>
            {VERDICTS}
          </Field>
          <Field label="Use" value={view.use} any="whatever is known" onChange={(use) => onChange({ use })}>
            {USE_FILTERS}
          </Field>
          <label className="grid grid-cols-[1fr_auto] items-center gap-2">
            Total at least
            <input
              type="number"
              min={0}
              value={view.least || ''}
              onChange={(event) => onChange({ least: Math.max(0, Number(event.target.value)) })}
              className="h-7 w-44 border border-line bg-paper px-2 text-right"
              aria-describedby="least-note"
            />
          </label>
          <span id="least-note" className="-mt-2 text-[12.5px] text-soft">
            in bytes, ms or pieces, as the measure has it
          </span>
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              checked={view.hideRest}
              onChange={(event) => onChange({ hideRest: event.target.checked })}
            />
            Hide what costs nothing here
          </label>
          <button
            type="button"
            aria-label="Close"
            className="absolute top-2 right-2 text-soft hover:text-ink"
            onClick={close}
          >
            <X size={14} />
          </button>
        </>
      )}
    </PopUp>
  )
}

interface FieldProps {
  label: string
  value: string | null
  any: string
  children: readonly string[]
  onChange(value: string | null): void
}

function Field({ label, value, any, children, onChange }: FieldProps) {
  return (
    <label className="grid grid-cols-[1fr_auto] items-center gap-2">
      {label}
      <select
        value={value ?? ''}
        onChange={(event) => onChange(event.target.value || null)}
        className="h-7 w-44 border border-line bg-paper px-1.5"
      >
        <option value="">{any}</option>
        {children.map((each) => (
          <option key={each} value={each}>
            {each}
          </option>
        ))}
      </select>
    </label>
  )
}

interface PlainProps {
  label: string
  value: string
  children: (readonly [string, string])[]
  onChange(value: string): void
}

function Plain({ label, value, children, onChange }: PlainProps): ReactNode {
  return (
    <label className={PILL}>
      <span className="text-soft">{label}</span>
      <select
        value={value}
        onChange={(event) => onChange(event.target.value)}
        className="h-[26px] max-w-40 bg-transparent pr-1 font-medium"
      >
        {children.map(([key, name]) => (
          <option key={key} value={key}>
            {name}
          </option>
        ))}
      </select>
    </label>
  )
}
