import { createColumnHelper } from '@tanstack/react-table'
import { useMemo } from 'react'
import type { QueryGroupView, ServerStepView, ServerWork } from '@unvelt/contract'
import { bytes, count, milliseconds, plural } from '../figures/format.js'
import { Notice } from '../parts/notice.js'
import { SortedTable } from '../parts/sorted-table.js'
import { Witnesses } from './witnesses.js'

const step = createColumnHelper<ServerStepView>()
const query = createColumnHelper<QueryGroupView>()

/** What the site did to make the page: its steps by add-on, and its queries by statement. */
export function ServerView({ work, names }: { work: ServerWork | null; names: ReadonlyMap<string, string> }) {
  const steps = useMemo(
    () => [
      step.accessor((row) => names.get(row.addon) ?? row.addon, { id: 'addon', header: 'Add-on' }),
      step.accessor('step', { header: 'Step' }),
      step.accessor('selfMs', {
        header: 'Own time',
        cell: (cell) => milliseconds(cell.getValue()),
        meta: { figure: true },
        sortDescFirst: true,
      }),
      step.accessor('queries', {
        header: 'Queries',
        cell: (cell) => (cell.getValue() ? count(cell.getValue()) : '–'),
        meta: { figure: true },
      }),
      step.accessor('queryMs', {
        header: 'Query time',
        cell: (cell) => (cell.getValue() ? milliseconds(cell.getValue()) : '–'),
        meta: { figure: true },
      }),
    ],
    [names],
  )
  const queries = useMemo(
    () => [
      query.accessor((row) => names.get(row.addon) ?? row.addon, { id: 'addon', header: 'Add-on' }),
      query.accessor('statement', {
        header: 'Statement',
        cell: (cell) => (
          <span className="block max-w-[640px] truncate font-mono text-[12px]" title={cell.getValue()}>
            {cell.getValue()}
          </span>
        ),
      }),
      query.accessor('count', { header: 'Times', cell: (cell) => count(cell.getValue()), meta: { figure: true } }),
      query.accessor('ms', {
        header: 'Time',
        cell: (cell) => milliseconds(cell.getValue()),
        meta: { figure: true },
        sortDescFirst: true,
      }),
      query.accessor('rows', {
        header: 'Rows',
        cell: (cell) => (cell.getValue() === null ? '–' : count(cell.getValue()!)),
        meta: { figure: true },
      }),
    ],
    [names],
  )
  if (!work)
    return (
      <Notice title="The site told nothing of its work">
        Its connector sends no traces, or the one of this reading has not come. Server time by add-on still stands in
        the ledger, where the site tells it.
      </Notice>
    )
  return (
    <div className="py-3">
      <p className="px-4 text-soft">
        {plural(
          work.steps.reduce((sum, row) => sum + row.queries, 0),
          'query',
          'queries',
        )}{' '}
        in {plural(work.steps.length, 'step')}, from {plural(work.spans, 'span')} of one reading.
        {work.peakMemoryBytes !== null && ` Most memory in use meanwhile: ${bytes(work.peakMemoryBytes)}.`}
      </p>
      <Witnesses work={work} names={names} />
      <h2 className="mt-3 px-4 text-[17px]">Steps</h2>
      <SortedTable rows={work.steps} columns={steps} sort={[{ id: 'selfMs', desc: true }]} label="Server steps" />
      <h2 className="mt-5 px-4 text-[17px]">Queries, by statement</h2>
      {work.queries.length === 0 ? (
        <p className="px-4 text-soft">None.</p>
      ) : (
        <SortedTable rows={work.queries} columns={queries} sort={[{ id: 'ms', desc: true }]} label="Queries" />
      )}
    </div>
  )
}
