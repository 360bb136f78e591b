import { createColumnHelper } from '@tanstack/react-table'
import { useMemo, useState } from 'react'
import type { NowhereCount, NowhereFile, Site } from '@unvelt/contract'
import { bytes, plural } from '../figures/format.js'
import { address } from '../pages/request-list.js'
import { Button } from '../parts/button.js'
import { SortedTable } from '../parts/sorted-table.js'
import { toast } from '../parts/toast.js'
import { FileCell } from './file-cell.js'
import { going, keptReasons, RULE, together } from './nowhere-words.js'
import { RulesWindow } from './rules-window.js'
import { saveFunctions } from './save-functions.js'

interface NeverRanProps {
  site: Site
  files: NowhereFile[]
  /** By slug. */
  payers: ReadonlyMap<string, string>
  takenAt: string | null
  takesCopies: boolean
}

const column = createColumnHelper<NowhereFile>()
const SORT = [{ id: 'never', desc: true }]

/** Scripts with their functions that no page and no step has run, each by name behind a press. */
export function NeverRan({ site, files, payers, takenAt, takesCopies }: NeverRanProps) {
  const [shown, setShown] = useState<NowhereFile | null>(null)
  const [isSaving, setSaving] = useState(false)
  const columns = useMemo(() => {
    const counted = (file: NowhereFile, { rules, bytes: weight }: Pick<NowhereCount, 'rules' | 'bytes'>) =>
      rules === 0 ? (
        <span className="text-soft">{file.why ? '–' : 'none'}</span>
      ) : (
        <button
          type="button"
          title={keptReasons(file.counts)}
          className="text-verdigris underline decoration-verdigris/40 underline-offset-2 hover:decoration-verdigris"
          onClick={() => setShown(file)}
        >
          {plural(rules, RULE.script)}, {bytes(weight)}
        </button>
      )
    return [
      column.accessor(({ url }) => address(url).file, {
        id: 'file',
        header: 'Script',
        cell: ({ row: { original } }) => <FileCell file={original} />,
      }),
      column.accessor(({ payer }) => payers.get(payer) ?? payer, { id: 'payer', header: 'Whose' }),
      column.accessor('pages', { header: 'Pages', meta: { figure: true }, sortDescFirst: true }),
      column.accessor('plain', {
        header: 'Unpacked',
        meta: { figure: true },
        sortDescFirst: true,
        cell: ({ getValue }) => bytes(getValue()),
      }),
      column.accessor(({ counts }) => together(counts).bytes, {
        id: 'never',
        header: 'Never ran',
        meta: { figure: true },
        sortDescFirst: true,
        cell: ({ row: { original } }) => counted(original, together(original.counts)),
      }),
      column.accessor(({ counts }) => going(counts)?.bytes ?? 0, {
        id: 'unnamed',
        header: 'Of those named nowhere',
        meta: { figure: true },
        sortDescFirst: true,
        cell: ({ row: { original } }) => counted(original, going(original.counts) ?? { rules: 0, bytes: 0 }),
      }),
    ]
  }, [payers])
  const least = site.leastDifference * files.reduce((sum, { plain, pages }) => sum + plain * pages, 0)
  const matters = files.filter(({ counts, pages }) => together(counts).bytes * pages > least)
  const rest = files.filter((file) => !matters.includes(file))
  const named = files.filter(({ counts }) => counts.length > 0)
  const save = async () => {
    setSaving(true)
    try {
      await saveFunctions(site.id, named, payers)
    } catch (error) {
      toast.error((error as Error).message)
    } finally {
      setSaving(false)
    }
  }
  return (
    <section aria-label="Functions that never ran" className="mt-8">
      <div className="flex flex-wrap items-start gap-x-6 gap-y-2 px-4">
        <div className="max-w-3xl flex-1">
          <h2 className="font-semibold">Functions that never ran</h2>
          <p className="text-soft">
            On no page and in no step. One that nothing names may still be called by a name that is put together while a
            script runs, so nothing is left out of a script; what they are called tells whoever wrote it what could be
            split off.
          </p>
        </div>
        {named.length > 0 && (
          <Button disabled={isSaving} onClick={() => void save()}>
            {isSaving ? 'Packing …' : 'Save the functions as a table'}
          </Button>
        )}
      </div>
      {matters.length > 0 && (
        <div className="mt-2">
          <SortedTable label="Functions that never ran" rows={matters} columns={columns} sort={SORT} />
        </div>
      )}
      {rest.length > 0 && (
        <details className="mt-3" open={matters.length === 0}>
          <summary className="cursor-pointer px-4 text-soft hover:text-ink">
            {plural(rest.length, 'script')} in which too little never ran to matter, or of which nothing is known
          </summary>
          <SortedTable label="Scripts of little matter" rows={rest} columns={columns} sort={SORT} />
        </details>
      )}
      {shown && (
        <RulesWindow
          site={site}
          file={shown}
          takenAt={takenAt}
          takesCopies={takesCopies}
          onClose={() => setShown(null)}
        />
      )}
    </section>
  )
}
