import { createColumnHelper } from '@tanstack/react-table'
import { useMemo, useState } from 'react'
import type { NowhereFile, Site } from '@unvelt/contract'
import { bytes, plural } from '../figures/format.js'
import { address } from '../pages/request-list.js'
import { SortedTable } from '../parts/sorted-table.js'
import { FileCell } from './file-cell.js'
import { going, keptReasons, keptWords } from './nowhere-words.js'
import { RulesWindow } from './rules-window.js'

interface TableProps {
  label: string
  site: Site
  files: NowhereFile[]
  /** By slug. */
  payers: ReadonlyMap<string, string>
  takenAt: string | null
  /** Whether the site serves what was made for it. */
  takesCopies: boolean
}

const column = createColumnHelper<NowhereFile>()

/** Stylesheets with what of them is used nowhere, each with its rules behind a press. */
export function NowhereTable({ label, site, files, payers, takenAt, takesCopies }: TableProps) {
  const [shown, setShown] = useState<NowhereFile | null>(null)
  const columns = useMemo(
    () => [
      column.accessor(({ url }) => address(url).file, {
        id: 'file',
        header: 'Stylesheet',
        cell: ({ row: { original } }) => <FileCell file={original} />,
      }),
      column.accessor(({ payer }) => payers.get(payer) ?? payer, { id: 'payer', header: 'Whose' }),
      column.accessor('pages', { header: 'Pages', meta: { figure: true }, sortDescFirst: true }),
      column.accessor('wire', {
        header: 'Weighs',
        meta: { figure: true },
        sortDescFirst: true,
        cell: ({ getValue }) => (getValue() > 0 ? bytes(getValue()) : <span className="text-soft">–</span>),
      }),
      column.accessor(({ counts }) => going(counts)?.bytes ?? 0, {
        id: 'goes',
        header: 'Used nowhere',
        meta: { figure: true },
        sortDescFirst: true,
        cell: ({ row: { original } }) => {
          const gone = going(original.counts)
          return gone ? (
            <button
              type="button"
              className="text-verdigris underline decoration-verdigris/40 underline-offset-2 hover:decoration-verdigris"
              onClick={() => setShown(original)}
            >
              {plural(gone.rules, 'rule')}, {bytes(gone.bytes)}
            </button>
          ) : (
            <span className="text-soft">{original.why ? '–' : 'nothing'}</span>
          )
        },
      }),
      column.accessor(({ counts }) => counts.reduce((sum, one) => sum + (one.because === null ? 0 : one.bytes), 0), {
        id: 'kept',
        header: 'May be needed',
        meta: { figure: true },
        sortDescFirst: true,
        cell: ({ row: { original } }) => (
          <button
            type="button"
            title={keptReasons(original.counts)}
            disabled={original.counts.length === 0}
            className="text-soft enabled:hover:text-ink enabled:hover:underline"
            onClick={() => setShown(original)}
          >
            {original.why ? '–' : keptWords(original)}
          </button>
        ),
      }),
      column.accessor('spared', {
        header: 'Spared in 1,000 views',
        meta: { figure: true },
        sortDescFirst: true,
        cell: ({ getValue }) => (getValue() > 0 ? `−${bytes(getValue())}` : <span className="text-soft">·</span>),
      }),
    ],
    [payers],
  )
  return (
    <>
      <SortedTable label={label} rows={files} columns={columns} sort={[{ id: 'spared', desc: true }]} />
      {shown && (
        <RulesWindow
          site={site}
          file={shown}
          takenAt={takenAt}
          takesCopies={takesCopies}
          onClose={() => setShown(null)}
        />
      )}
    </>
  )
}
