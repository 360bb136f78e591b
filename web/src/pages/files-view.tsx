import { Tag } from 'lucide-react'
import { createColumnHelper } from '@tanstack/react-table'
import { useMemo, useState } from 'react'
import type { PageRequest, Site } from '@unvelt/contract'
import { bytes, milliseconds, percent, plural, span } from '../figures/format.js'
import { ChargeDialog } from '../patterns/charge-dialog.js'
import { SortedTable } from '../parts/sorted-table.js'
import { evidenceWords } from './evidence.js'
import { address, typeWords } from './request-list.js'

const column = createColumnHelper<PageRequest>()

const known = (value: number | null) => (value === null ? <span className="text-soft">–</span> : bytes(value))

/** What the page asks for ahead of its use, and whether it was of any. */
function Preloads({ requests }: { requests: PageRequest[] }) {
  const ahead = requests.filter(({ preloaded }) => preloaded)
  if (ahead.length === 0) return null
  const size = ahead.reduce((sum, { transferBytes }) => sum + transferBytes, 0)
  // Of code it is known whether it ran or applied; of the rest only that it came.
  const idle = ahead.filter(({ idleBytes, decodedBytes }) => decodedBytes > 0 && idleBytes === decodedBytes)
  return (
    <p className="px-4 pt-3 text-soft">
      {plural(ahead.length, 'file')} of {bytes(size)} {ahead.length === 1 ? 'is' : 'are'} preloaded, asked for ahead of
      {ahead.length === 1 ? ' its' : ' their'} use.
      {idle.length > 0 && ` Nothing of ${idle.map(({ url }) => address(url).file).join(', ')} was seen in use.`}
    </p>
  )
}

/** Every request of the page as a table, the one with the most idle bytes first. */
export function FilesView({
  site,
  requests,
  names,
}: {
  site: Site
  requests: PageRequest[]
  names: Map<string, string>
}) {
  const [charging, setCharging] = useState<PageRequest | null>(null)
  const columns = useMemo(
    () => [
      column.accessor('url', {
        header: 'File',
        cell: ({ row: { original } }) => {
          const { file, host } = address(original.url)
          return (
            <span className="block max-w-[240px] truncate" title={original.url}>
              {file} <span className="text-soft">{host}</span>
            </span>
          )
        },
      }),
      column.accessor((row) => names.get(row.payer) ?? row.payer, {
        id: 'payer',
        header: 'Payer',
        cell: (cell) => <span title={evidenceWords(cell.row.original)}>{cell.getValue()}</span>,
      }),
      column.accessor(typeWords, { id: 'type', header: 'Type' }),
      column.accessor('transferBytes', {
        header: 'Transfer',
        cell: (cell) =>
          cell.row.original.fromCache ? <span className="text-soft">from cache</span> : bytes(cell.getValue()),
        meta: { figure: true },
        sortDescFirst: true,
      }),
      column.accessor('decodedBytes', {
        header: 'Decoded',
        cell: (cell) => bytes(cell.getValue()),
        meta: { figure: true },
        sortDescFirst: true,
      }),
      column.accessor((row) => row.idleBytes ?? -1, {
        id: 'idleBytes',
        header: 'Idle',
        cell: ({ row: { original: row } }) =>
          row.idleBytes === null ? (
            <span className="text-soft">–</span>
          ) : (
            <>
              {bytes(row.idleBytes)}{' '}
              <span className="inline-block w-12 text-soft">
                {row.decodedBytes > 0 ? percent(row.idleBytes / row.decodedBytes) : ''}
              </span>
            </>
          ),
        meta: { figure: true },
        sortDescFirst: true,
      }),
      column.accessor((row) => row.idleEverywhere ?? -1, {
        id: 'idleEverywhere',
        header: 'Idle everywhere',
        cell: ({ row: { original: row } }) => known(row.idleEverywhere),
        meta: { figure: true },
        sortDescFirst: true,
      }),
      column.accessor((row) => row.neededLater ?? -1, {
        id: 'neededLater',
        header: 'Needed later',
        cell: ({ row: { original: row } }) => known(row.neededLater),
        meta: { figure: true },
        sortDescFirst: true,
      }),
      column.accessor((row) => row.cacheSeconds ?? -1, {
        id: 'cacheSeconds',
        header: 'Kept for',
        cell: ({ row: { original: row } }) => (
          <span title={row.cacheBy}>{row.cacheSeconds === null ? '–' : span(row.cacheSeconds)}</span>
        ),
        meta: { figure: true },
      }),
      column.accessor((row) => row.compression ?? '', {
        id: 'compression',
        header: 'Packed',
        cell: (cell) => cell.getValue() || <span className="text-soft">–</span>,
      }),
      column.accessor('mainThreadMs', {
        header: 'Main thread',
        cell: (cell) => (cell.getValue() > 0 ? milliseconds(cell.getValue()) : <span className="text-soft">–</span>),
        meta: { figure: true },
        sortDescFirst: true,
      }),
      column.display({
        id: 'charge',
        header: '',
        cell: ({ row: { original } }) => (
          <button
            type="button"
            className="p-0.5 text-verdigris hover:bg-wash"
            title="Charge to …"
            aria-label={`Charge ${address(original.url).file} to …`}
            onClick={() => setCharging(original)}
          >
            <Tag size={16} aria-hidden />
          </button>
        ),
      }),
    ],
    [names],
  )
  return (
    <>
      <Preloads requests={requests} />
      <SortedTable rows={requests} columns={columns} sort={[{ id: 'idleBytes', desc: true }]} label="Files" />
      {charging && (
        <ChargeDialog
          site={site}
          request={charging}
          addresses={requests.map(({ url }) => url)}
          onClose={() => setCharging(null)}
        />
      )}
    </>
  )
}
