import { createColumnHelper } from '@tanstack/react-table'
import { useMemo } from 'react'
import type { Site, TaskView } from '@unvelt/contract'
import { bytes, count, dateTime, milliseconds, span } from '../figures/format.js'
import { SortedTable } from '../parts/sorted-table.js'
import { TraceLink } from './trace-link.js'

const column = createColumnHelper<TaskView>()

interface Props {
  site: Site
  tasks: TaskView[]
  names: ReadonlyMap<string, string>
}

/** Work that belongs to no page load. */
export function TasksPart({ site, tasks, names }: Props) {
  const columns = useMemo(
    () => [
      column.accessor('name', {
        header: 'Task',
        cell: ({ row: { original } }) => (
          <>
            <span className="font-semibold">{original.name}</span>
            {original.lastFailure && (
              <span className="block text-[12.5px] text-plum">last failure: {original.lastFailure}</span>
            )}
          </>
        ),
      }),
      column.accessor((row) => names.get(row.addOn ?? '') ?? row.addOn ?? '', { id: 'addOn', header: 'Add-on' }),
      column.accessor((row) => row.everySeconds ?? Infinity, {
        id: 'every',
        header: 'Due every',
        meta: { figure: true },
        cell: ({ row: { original } }) => (original.everySeconds === null ? '–' : span(original.everySeconds)),
      }),
      column.accessor('runs', {
        header: 'Runs seen',
        meta: { figure: true },
        sortDescFirst: true,
        cell: ({ row: { original } }) => (
          <>
            {count(original.runs)}
            {original.failed > 0 && <span className="text-plum"> · {original.failed} failed</span>}
          </>
        ),
      }),
      column.accessor((row) => row.middleMs ?? -1, {
        id: 'middle',
        header: 'Time, middle',
        meta: { figure: true },
        sortDescFirst: true,
        cell: ({ getValue }) => (getValue() < 0 ? '–' : milliseconds(getValue())),
      }),
      column.accessor((row) => row.mostMs ?? -1, {
        id: 'most',
        header: 'Most',
        meta: { figure: true },
        sortDescFirst: true,
        cell: ({ getValue }) => (getValue() < 0 ? '–' : milliseconds(getValue())),
      }),
      column.accessor((row) => row.peakMemoryBytes ?? -1, {
        id: 'memory',
        header: 'Memory',
        meta: { figure: true },
        sortDescFirst: true,
        cell: ({ getValue }) => (getValue() < 0 ? '–' : bytes(getValue())),
      }),
      column.accessor((row) => row.lastAt ?? '', {
        id: 'last',
        header: 'Last run',
        cell: ({ getValue }) => (getValue() ? dateTime(getValue()) : '–'),
      }),
      column.display({
        id: 'trace',
        header: 'Slowest run',
        cell: ({ row: { original } }) => (
          <TraceLink site={site.id} trace={original.slowestTrace}>
            Look into it
          </TraceLink>
        ),
      }),
    ],
    [names, site.id],
  )
  return (
    <section aria-label="Scheduled tasks" className="border-t border-line py-4">
      <h2 className="px-4 text-[17px]">Scheduled tasks</h2>
      <p className="max-w-3xl px-4 text-soft">
        Work outside any page load. No page is charged with it; it takes the server’s time all the same.
      </p>
      {tasks.length === 0 ? (
        <p className="mt-2 px-4 text-soft">None is declared, and none was seen at work.</p>
      ) : (
        <div className="mt-2">
          <SortedTable label="Scheduled tasks" rows={tasks} columns={columns} sort={[{ id: 'middle', desc: true }]} />
        </div>
      )}
    </section>
  )
}
