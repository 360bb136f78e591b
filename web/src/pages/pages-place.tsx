import { createColumnHelper } from '@tanstack/react-table'
import { useMemo, useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import { MEASURES, type Measure, type Page } from '@unvelt/contract'
import { count, MEASURE_WORDS, plural } from '../figures/format.js'
import { TollFigure } from '../figures/toll-figure.js'
import { useSite } from '../frame/site-context.js'
import { noFigures, type Figures, type Sheet } from '../ledger/sheet.js'
import { useSheet } from '../ledger/use-sheet.js'
import { Button } from '../parts/button.js'
import { chooseFile } from '../parts/choose-file.js'
import { FilterText } from '../parts/filter-text.js'
import { Failed, Loading, Notice } from '../parts/notice.js'
import { lazily } from '../parts/lazily.js'
import { PlaceHead } from '../parts/place-head.js'
import { ViewNav } from '../parts/view-nav.js'
import { BesideLoads } from '../server-work/beside-loads.js'
import { useViewsImport } from './views-import.js'
import { SortedTable } from '../parts/sorted-table.js'

const SitePicturesView = lazily(async () => (await import('../picture-look/site-pictures-view.js')).SitePicturesView)

const SiteFilesView = lazily(async () => (await import('../file-look/site-files-view.js')).SiteFilesView)

const NowhereView = lazily(async () => (await import('../nowhere/nowhere-view.js')).NowhereView)

const NamePages = lazily(async () => (await import('./name-pages.js')).NamePages)

interface Row extends Page {
  site: number
  search: string
  /** Null while no reading of the page succeeded. */
  figures: Figures | null
  tells(measure: Measure): boolean
  /** Why there is no figure in a measure; null where there is one. */
  lacking(measure: Measure): string | null
}

const column = createColumnHelper<Row>()
const figure = (measure: keyof Figures) =>
  column.accessor((row) => (row.lacking(measure) === null ? (row.figures?.[measure] ?? -1) : -1), {
    id: measure,
    header: MEASURE_WORDS[measure].name,
    meta: { figure: true },
    cell: ({ getValue, row: { original } }) =>
      getValue() < 0 ? (
        <span className="whitespace-nowrap text-soft">{original.lacking(measure) ?? 'unread'}</span>
      ) : (
        <TollFigure measure={measure} value={getValue()} told={original.tells(measure)} />
      ),
  })

const COLUMNS = [
  column.accessor('title', {
    header: 'Page',
    cell: ({ row: { original } }) => (
      <Link
        to={{ pathname: `/sites/${original.site}/pages/${original.id}`, search: original.search }}
        className="group block"
      >
        <span className="font-semibold text-verdigris group-hover:underline">{original.title}</span>
        <span className="block text-[12.5px] text-soft">{original.path}</span>
      </Link>
    ),
  }),
  column.accessor('kind', { header: 'Kind' }),
  column.accessor((row) => row.views ?? -1, {
    id: 'views',
    header: 'Views',
    meta: { figure: true },
    sortDescFirst: true,
    cell: ({ row: { original } }) =>
      original.views === null ? <span className="text-soft">–</span> : count(original.views),
  }),
  figure('requests'),
  figure('transferBytes'),
  figure('decodedBytes'),
  figure('idleBytes'),
  figure('mainThreadMs'),
  figure('serverMs'),
  figure('queries'),
]

/** Every page with its own totals. */
export function PagesPlace() {
  const site = useSite()
  const [search] = useSearchParams()
  const view = VIEWS.find(({ key }) => key === search.get('view'))?.key ?? 'loads'
  const sweep = search.get('sweep')
  const { ledger, sheet, error } = useSheet(site.id, sweep)
  const views = useViewsImport(site.id)
  const [naming, setNaming] = useState(false)
  const rows = useMemo<Row[]>(
    () =>
      (ledger.data?.pages ?? []).map((page, index) => ({
        ...page,
        site: site.id,
        search: sweep === null ? '' : `?sweep=${sweep}`,
        figures: sheet && !sheet.unread.has(index) ? totalsOf(sheet, index) : null,
        tells: (measure) => sheet?.tells(measure) ?? false,
        lacking: (measure) => sheet?.lacking(index, measure) ?? null,
      })),
    [ledger.data, sheet, site.id, sweep],
  )
  const names = useMemo(() => new Map(ledger.data?.payers.map(({ slug, name }) => [slug, name])), [ledger.data])
  if (error) return <Failed error={error} retry={() => void ledger.refetch()} />
  if (!ledger.data || (ledger.data.sweep && !sheet)) return <Loading what="the pages" />
  return (
    <div className="flex h-full flex-col">
      <PlaceHead
        title="Pages"
        action={
          <div className="flex gap-2">
            <Button onClick={() => setNaming(true)}>Name pages …</Button>
            <Button
              disabled={views.isPending}
              onClick={() => chooseFile('.csv,.log,.txt,text/csv,text/plain', (file) => views.mutate(file))}
            >
              Take page views in …
            </Button>
          </div>
        }
      >
        {plural(rows.length, 'page')}, each with all it loads and what the server did for it.{' '}
        {KNOWN_FROM[site.pagesFrom]}
      </PlaceHead>
      <ViewNav label="Views" views={VIEWS} shown={view} />
      <div className="min-h-0 flex-1 overflow-auto">
        {view === 'loads' ? (
          <Loads rows={rows} />
        ) : view === 'pictures' ? (
          <SitePicturesView siteId={site.id} pages={ledger.data.pages} />
        ) : view === 'files' ? (
          <SiteFilesView siteId={site.id} pages={ledger.data.pages} payers={names} />
        ) : view === 'nowhere' ? (
          <NowhereView site={site} payers={names} />
        ) : (
          <BesideLoads site={site} names={names} />
        )}
      </div>
      {naming && <NamePages site={site} onClose={() => setNaming(false)} />}
    </div>
  )
}

/** Pages are found by what they are called, by their address, and by their kind. */
function Loads({ rows }: { rows: Row[] }) {
  const [search, setSearch] = useSearchParams()
  const text = search.get('q') ?? ''
  const wanted = text.trim().toLowerCase()
  const shown = useMemo(
    () =>
      wanted === ''
        ? rows
        : rows.filter(({ title, path, kind }) => [title, path, kind].some((of) => of.toLowerCase().includes(wanted))),
    [rows, wanted],
  )
  const find = (value: string) =>
    setSearch(
      (old) => {
        if (value) old.set('q', value)
        else old.delete('q')
        return old
      },
      { replace: true },
    )
  return (
    <div className="flex h-full flex-col">
      <div className="flex items-center gap-4 border-b border-line px-4 py-1.5 text-[13px]">
        <FilterText
          label="Filter pages"
          placeholder="Title, address, kind"
          className="w-72"
          text={text}
          onChange={find}
        />
        {wanted && (
          <span role="status" className="text-soft">
            {count(shown.length)} of {count(rows.length)}
          </span>
        )}
      </div>
      <div className="min-h-0 flex-1 overflow-auto">
        {shown.length === 0 && wanted ? (
          <Notice
            title="No page is like that"
            action={
              <button type="button" className="text-verdigris underline" onClick={() => find('')}>
                Show all
              </button>
            }
          >
            Titles, addresses and kinds of all {plural(rows.length, 'page')} were looked through.
          </Notice>
        ) : (
          <SortedTable label="Pages" rows={shown} columns={COLUMNS} sort={[{ id: 'transferBytes', desc: true }]} />
        )}
      </div>
    </div>
  )
}

const VIEWS = [
  { key: 'loads', name: 'Loads' },
  { key: 'beside', name: 'Actions and tasks' },
  { key: 'pictures', name: 'Pictures' },
  { key: 'files', name: 'Files' },
  { key: 'nowhere', name: 'Used nowhere' },
] as const

const KNOWN_FROM: Record<string, string> = {
  connector: '',
  sitemap: 'Known by the site’s sitemap, which is asked again before each sweep.',
  links: 'Found by following the site’s links, again before each sweep; what no link leads to can be named.',
}

function totalsOf(sheet: Sheet, page: number): Figures {
  const totals = noFigures()
  for (const measure of MEASURES) totals[measure] = sheet.margins(measure).pages[page]!
  return totals
}
