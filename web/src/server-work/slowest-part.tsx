import { createColumnHelper } from '@tanstack/react-table'
import { useMemo, useState } from 'react'
import type { Site, SlowTraceView } from '@unvelt/contract'
import { bytes, dateTime, milliseconds } from '../figures/format.js'
import { SortedTable } from '../parts/sorted-table.js'
import { TraceLink } from './trace-link.js'

const column = createColumnHelper<SlowTraceView>()
const FEW = 10

interface Props {
  site: Site
  slowest: SlowTraceView[]
  names: ReadonlyMap<string, string>
}

/** What took the server longest: of each page, form and task the slowest trace that has come. */
export function SlowestPart({ site, slowest, names }: Props) {
  const [all, setAll] = useState(false)
  const columns = useMemo(
    () => [
      column.accessor('name', {
        header: 'Request or task',
        cell: ({ row: { original } }) => (
          <>
            <TraceLink site={site.id} trace={original.traceId}>
              {original.name}
            </TraceLink>
            {original.failure && <span className="text-plum"> · {original.failure}</span>}
          </>
        ),
      }),
      column.accessor((row) => (row.kind === 'task' ? (names.get(row.addOn ?? '') ?? row.addOn ?? '') : ''), {
        id: 'addOn',
        header: 'Task of',
      }),
      column.accessor('ms', {
        header: 'Time',
        meta: { figure: true },
        sortDescFirst: true,
        cell: ({ getValue }) => milliseconds(getValue()),
      }),
      column.accessor((row) => row.peakMemoryBytes ?? -1, {
        id: 'memory',
        header: 'Memory',
        meta: { figure: true },
        sortDescFirst: true,
        cell: ({ getValue }) => (getValue() < 0 ? '–' : bytes(getValue())),
      }),
      column.accessor('startedAt', { header: 'When', cell: ({ getValue }) => dateTime(getValue()) }),
    ],
    [names, site.id],
  )
  return (
    <section aria-label="Slowest traces" className="border-t border-line py-4">
      <h2 className="px-4 text-[17px]">Slowest traces</h2>
      <p className="max-w-3xl px-4 text-soft">
        Of each page, form and task the slowest that was traced. It is kept when others are forgotten, after sixty days.
      </p>
      {slowest.length === 0 ? (
        <p className="mt-2 px-4 text-soft">No trace has come. Sites send them where their connector can.</p>
      ) : (
        <div className="mt-2">
          <SortedTable
            label="Slowest traces"
            rows={all ? slowest : slowest.slice(0, FEW)}
            columns={columns}
            sort={[{ id: 'ms', desc: true }]}
          />
          {slowest.length > FEW && (
            <button
              type="button"
              className="px-4 py-2 text-verdigris hover:underline"
              onClick={() => setAll((now) => !now)}
            >
              {all ? `Only the ${FEW} slowest` : `All ${slowest.length}`}
            </button>
          )}
        </div>
      )}
    </section>
  )
}
