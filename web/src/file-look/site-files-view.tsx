import { createColumnHelper } from '@tanstack/react-table'
import { useMemo } from 'react'
import { Link } from 'react-router'
import type { Page, SiteFile, SiteFiles } from '@unvelt/contract'
import { useSiteFiles, useWeighAllFiles } from '../api/files.js'
import { bytes, dateTime, plural } from '../figures/format.js'
import { address } from '../pages/request-list.js'
import { Button } from '../parts/button.js'
import { download } from '../parts/download.js'
import { Failed, Loading } from '../parts/notice.js'
import { SortedTable } from '../parts/sorted-table.js'
import { toast } from '../parts/toast.js'
import { PromisesPart } from '../promises/promises-part.js'
import { TwoMinifiers } from './two-minifiers.js'
import { nowWords } from './file-gains.js'

interface Names {
  pages: readonly Page[]
  /** By slug. */
  payers: ReadonlyMap<string, string>
}

/** What the scripts and styles of all pages weigh and could weigh, each once, however many pages load it. */
export function SiteFilesView({ siteId, pages, payers }: Names & { siteId: number }) {
  const all = useSiteFiles(siteId)
  const weigh = useWeighAllFiles(siteId)
  if (all.isError) return <Failed error={all.error} retry={() => void all.refetch()} />
  if (!all.data) return <Loading what="the files" />
  const { data } = all
  const ask = (act: 'weigh' | 'stop') => weigh.mutate(act, { onError: (error) => toast.error(error.message) })
  return (
    <div className="py-4">
      <div className="px-4">
        <p className="max-w-3xl text-soft">
          Asks for each script and style that the sweep saw once more, packs it as servers do by themselves, and
          minifies it with its names left as they are. What it would spare is told in 1,000 page views, each of which
          fetches it
          {data.weighed > 0 && !data.byViews && '; every page counts alike, since no views are known'}.
        </p>
        <div className="mt-3 flex flex-wrap items-center gap-4">
          {data.waiting > 0 ? (
            <>
              <p role="status" className="py-1.5">
                {data.weighed} of {plural(data.files, 'file')}, {plural(data.waiting, 'page')} to go …
              </p>
              <Button disabled={weigh.isPending} onClick={() => ask('stop')}>
                Stop
              </Button>
            </>
          ) : (
            <>
              <Button weight="main" disabled={weigh.isPending || data.files === 0} onClick={() => ask('weigh')}>
                {data.weighed === 0
                  ? `Weigh ${plural(data.files, 'file')}`
                  : data.weighed + data.lost < data.files
                    ? `Weigh the other ${data.files - data.weighed - data.lost}`
                    : 'Weigh them again'}
              </Button>
              <span className="text-[13px] text-soft">
                {data.files === 0
                  ? 'No sweep has seen a script or a style.'
                  : `${plural(data.pagesToLookAt, 'page')} ${data.pagesToLookAt === 1 ? 'has' : 'have'} them all.`}
              </span>
            </>
          )}
        </div>
      </div>
      <PromisesPart siteId={siteId} kind="file" />
      {data.weighed > 0 && <Found siteId={siteId} data={data} pages={pages} payers={payers} />}
    </div>
  )
}

function Found({ siteId, data, pages, payers }: Names & { siteId: number; data: SiteFiles }) {
  const titles = useMemo(() => new Map(pages.map(({ id, title }) => [id, title])), [pages])
  const columns = useMemo(() => columnsOf(siteId, titles, payers), [siteId, titles, payers])
  const changed = data.found.filter((one) => one.changed)
  const matters = data.found.filter((one) => one.spared > data.leastBytes && one.spared > 0 && !one.changed)
  const own = matters.filter(({ file }) => file.isOwn)
  const rest = data.found.filter((one) => !matters.includes(one) && !one.changed)
  const sum = (files: readonly SiteFile[]) => files.reduce((total, { spared }) => total + spared, 0)
  const [failed] = data.failed
  return (
    <section aria-label="Files of the site" className="mt-5">
      <p className="px-4">
        {plural(data.weighed, 'file')}, {bytes(data.together)} in 1,000 page views
        {matters.length > 0 &&
          `; ${bytes(sum(matters))} of them could be spared by ${plural(matters.length, 'file')}, ${own.length === matters.length ? 'all of the site’s own' : `${own.length} of the site’s own`}`}
        . <span className="text-soft">{data.since !== null && `Weighed since ${dateTime(data.since)}.`}</span>
        {data.lost > 0 && (
          <span className="text-soft">
            {' '}
            {plural(data.lost, 'other')} looked for in vain:{' '}
            {data.lost === 1 ? 'its address changes, or it is' : 'their addresses change, or they are'} not there any
            more.
          </span>
        )}
        {changed.length > 0 && (
          <span className="text-soft"> {plural(changed.length, 'file')} changed since, and can be weighed again.</span>
        )}
        {failed && (
          <span className="text-plum">
            {' '}
            {titles.get(failed.pageId)}: {failed.failure}
          </span>
        )}
        {matters.length > 0 && (
          <Button
            weight="quiet"
            className="ml-2 h-7 px-2"
            onClick={() => void saveTable(matters.map((one) => rowOf(one, payers)))}
          >
            Save as a table
          </Button>
        )}
      </p>
      <div className="px-4">
        <TwoMinifiers siteId={siteId} files={data.found.map(({ file }) => file)} />
      </div>
      {matters.length > 0 && (
        <div className="mt-2">
          <SortedTable
            label="Could weigh less"
            rows={matters}
            columns={columns}
            sort={[{ id: 'spared', desc: true }]}
          />
        </div>
      )}
      {rest.length > 0 && (
        <details className="mt-3" open={matters.length === 0}>
          <summary className="cursor-pointer px-4 text-soft hover:text-ink">
            {plural(rest.length, 'file')} of which{' '}
            {data.leastBytes > 0 ? `no more than ${bytes(data.leastBytes)}` : 'nothing'} in 1,000 page views could be
            spared
          </summary>
          <SortedTable
            label="As light as they need be"
            rows={rest}
            columns={columns}
            sort={[{ id: 'weighs', desc: true }]}
          />
        </details>
      )}
    </section>
  )
}

/** A line for a spreadsheet. */
const rowOf = (
  { file, payer, pageIds, bytes: left, byPacking, byMinifying, spared }: SiteFile,
  payers: Names['payers'],
) => ({
  address: file.url,
  whose: payers.get(payer) ?? payer,
  own: file.isOwn ? 'yes' : 'no',
  pages: pageIds.length,
  comes: nowWords(file),
  bytes: file.bytes,
  'by packing': byPacking,
  'by minifying': byMinifying,
  'could weigh': left,
  'spared in 1,000 page views': Math.round(spared),
})

async function saveTable(rows: object[]): Promise<void> {
  const { stringify } = await import('csv-stringify/browser/esm/sync')
  download(
    'files.csv',
    new Blob([stringify(rows, { header: true, bom: true, escape_formulas: true })], { type: 'text/csv' }),
  )
}

const column = createColumnHelper<SiteFile>()
const less = (spared: number) => (spared > 0 ? `−${bytes(spared)}` : <span className="text-soft">·</span>)

const columnsOf = (siteId: number, titles: ReadonlyMap<number, string>, payers: Names['payers']) => [
  column.accessor(({ file }) => address(file.url).file, {
    id: 'file',
    header: 'File',
    cell: ({ row: { original } }) => {
      const { file, payer } = original
      const { file: name, host } = address(file.url)
      return (
        <div className="max-w-96 min-w-0">
          <a href={file.url} target="_blank" rel="noreferrer" className="font-semibold break-all hover:text-verdigris">
            {name}
          </a>
          <div className="text-[13px] text-soft">
            {[payers.get(payer) ?? '', file.isOwn ? '' : `${host}: only its owner can change it`]
              .filter(Boolean)
              .join(' · ')}
          </div>
        </div>
      )
    },
  }),
  column.accessor(({ pageIds }) => pageIds.length, {
    id: 'pages',
    header: 'Pages',
    sortDescFirst: true,
    cell: ({ row: { original } }) => (
      <div className="max-w-44 truncate">
        <Link
          to={`/sites/${siteId}/pages/${original.pageIds[0]}?view=files`}
          className="text-verdigris hover:underline"
        >
          {titles.get(original.pageIds[0]!) ?? 'a page'}
        </Link>
        {original.pageIds.length > 1 && (
          <div className="text-[13px] text-soft">and {original.pageIds.length - 1} more</div>
        )}
      </div>
    ),
  }),
  column.accessor(({ file }) => nowWords(file), { id: 'comes', header: 'Comes' }),
  column.accessor(({ file }) => file.bytes, {
    id: 'weighs',
    header: 'Weighs',
    meta: { figure: true },
    cell: ({ getValue }) => bytes(getValue()),
  }),
  column.accessor('byPacking', {
    header: 'By packing',
    meta: { figure: true },
    cell: ({ getValue }) => less(getValue()),
  }),
  column.accessor('byMinifying', {
    header: 'By minifying',
    meta: { figure: true },
    cell: ({ getValue }) => less(getValue()),
  }),
  column.accessor('spared', {
    header: 'In 1,000 page views',
    meta: { figure: true },
    cell: ({ getValue }) => <b className="font-semibold">{less(getValue())}</b>,
  }),
]
