import { createColumnHelper, type ColumnDef } from '@tanstack/react-table'
import { Columns3 } from 'lucide-react'
import { useMemo } from 'react'
import { Link } from 'react-router'
import { MEASURES, type Measure } from '@unvelt/contract'
import { count, MEASURE_WORDS } from '../figures/format.js'
import { TollFigure } from '../figures/toll-figure.js'
import { FilterText } from '../parts/filter-text.js'
import { Menu } from '../parts/menu.js'
import { Notice } from '../parts/notice.js'
import { useRemembered } from '../parts/remembered.js'
import { SortedTable } from '../parts/sorted-table.js'
import type { Row } from './rows.js'

const column = createColumnHelper<Row>()
const figure = (measure: Measure) =>
  column.accessor((row) => row.figures[measure], {
    id: measure,
    header: MEASURE_WORDS[measure].name,
    meta: { figure: true },
    sortDescFirst: true,
    cell: ({ getValue, row: { original } }) => (
      <TollFigure measure={measure} value={getValue()} told={original.tells(measure)} dotted />
    ),
  })

const NAME = column.accessor('name', {
  header: 'Add-on',
  cell: ({ row: { original } }) => (
    <Link to={`/sites/${original.site}/add-ons/${encodeURIComponent(original.slug)}`} className="group block min-w-44">
      <span className="font-semibold text-verdigris group-hover:underline">{original.name}</span>
      <span className="block text-[12.5px] text-soft">{stateOf(original)}</span>
    </Link>
  ),
})

const OTHERS = {
  kind: column.accessor('kind', { header: 'Kind' }),
  jobs: column.accessor((row) => row.jobs.join(', '), { id: 'jobs', header: 'Jobs' }),
  verdict: column.accessor((row) => row.verdict.verdict, {
    id: 'verdict',
    header: 'Verdict',
    cell: ({ getValue, row: { original } }) => (
      <span className={getValue() === 'undecided' ? 'text-soft' : 'font-medium'} title={original.verdict.why}>
        {getValue()}
        {original.openQuestions > 0 && <span className="text-plum"> · asked</span>}
      </span>
    ),
  }),
  version: column.accessor((row) => row.version ?? '', { id: 'version', header: 'Version' }),
  author: column.accessor((row) => row.author ?? '', { id: 'author', header: 'Author' }),
  since: column.accessor((row) => row.since ?? '', {
    id: 'since',
    header: 'Since',
    cell: ({ getValue }) => (getValue() ? new Date(getValue()).toLocaleDateString('en-GB', DAY) : ''),
  }),
  source: column.accessor((row) => SOURCES[row.source] ?? row.source, { id: 'source', header: 'Known from' }),
  pages: column.accessor('pages', {
    header: 'Loaded on',
    meta: { figure: true },
    sortDescFirst: true,
    cell: ({ getValue }) => count(getValue()),
  }),
  used: column.accessor('used', {
    header: 'In use on',
    meta: { figure: true },
    sortDescFirst: true,
    cell: ({ row: { original } }) => usedCell(original),
  }),
  ...(Object.fromEntries(MEASURES.map((measure) => [measure, figure(measure)])) as Record<
    Measure,
    ReturnType<typeof figure>
  >),
}
type ColumnName = keyof typeof OTHERS

const DAY = { day: 'numeric', month: 'short', year: 'numeric' } as const
export const SOURCES: Record<string, string> = {
  connector: 'the site',
  reading: 'a reading',
  hand: 'by hand',
  import: 'a list',
}
const STANDARD: ColumnName[] = [
  'kind',
  'verdict',
  'pages',
  'used',
  'requests',
  'transferBytes',
  'idleBytes',
  'serverMs',
  'queries',
]
const NAMES: Record<ColumnName, string> = {
  kind: 'Kind',
  jobs: 'Jobs',
  verdict: 'Verdict',
  version: 'Version',
  author: 'Author',
  since: 'Since',
  source: 'Known from',
  pages: 'Loaded on',
  used: 'In use on',
  ...(Object.fromEntries(MEASURES.map((measure) => [measure, MEASURE_WORDS[measure].name])) as Record<Measure, string>),
}

function stateOf({ active, gone, works, library, version }: Row): string {
  const state = gone
    ? 'gone from the site'
    : !active
      ? 'switched off'
      : works === 'unseen'
        ? 'works unseen'
        : works === 'once'
          ? 'did its work once'
          : library
            ? 'a library'
            : ''
  return [version, state].filter(Boolean).join(' · ')
}

/** A figure where use is known, a word where it is not. */
function usedCell({ used, use }: Row) {
  if (used > 0) return count(used)
  if (use.has('works unseen')) return <span className="text-soft">unseen</span>
  if (use.has('planned')) return <span className="text-soft">planned</span>
  return use.has('not seen') && !use.has('unknown') ? 'none' : <span className="text-soft">not known</span>
}

interface TableProps {
  rows: Row[]
  text: string
  onText(text: string): void
}

/** The list, with the columns that were chosen last. */
export function AddOnTable({ rows, text, onText }: TableProps) {
  const [chosen, choose] = useRemembered<ColumnName[]>('unvelt-add-on-columns', STANDARD)
  const columns = useMemo(
    () => [
      NAME,
      ...(Object.keys(OTHERS) as ColumnName[]).filter((name) => chosen.includes(name)).map((name) => OTHERS[name]),
    ],
    [chosen],
  )
  const wanted = text.trim().toLowerCase()
  const shown = rows.filter((row) =>
    [row.name, row.slug, row.kind, row.author, row.summary, row.verdict.verdict, ...row.jobs, ...row.outsideHosts].some(
      (each) => each?.toLowerCase().includes(wanted),
    ),
  )
  return (
    <div className="flex h-full flex-col">
      <div className="flex items-center gap-4 border-b border-line px-4 py-1.5 text-[13px]">
        <FilterText
          label="Filter add-ons"
          placeholder="Name, job, author, host, verdict"
          className="w-72"
          text={text}
          onChange={onText}
        />
        {wanted && (
          <span className="text-soft">
            {shown.length} of {rows.length}
          </span>
        )}
        <Menu
          align="end"
          className="text-[13px]"
          button={
            <button type="button" className="ml-auto flex items-center gap-1 text-verdigris hover:underline">
              <Columns3 size={14} aria-hidden /> Columns
            </button>
          }
          entries={(Object.keys(OTHERS) as ColumnName[]).map((name) => ({
            name: NAMES[name],
            checked: chosen.includes(name),
            onChecked: (on) => choose(on ? [...chosen, name] : chosen.filter((each) => each !== name)),
          }))}
        />
      </div>
      <div className="min-h-0 flex-1 overflow-auto">
        {shown.length === 0 ? (
          <Notice title="No add-on is called that">
            Its job, author, hosts and verdict were looked through as well.
          </Notice>
        ) : (
          <SortedTable
            label="Add-ons"
            rows={shown}
            // A column's value type is its own affair.
            columns={columns as ColumnDef<Row, unknown>[]}
            sort={[{ id: 'transferBytes', desc: true }]}
          />
        )}
      </div>
    </div>
  )
}
