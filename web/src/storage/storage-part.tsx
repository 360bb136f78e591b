import { useState } from 'react'
import type { Site, StoredSweep } from '@unvelt/contract'
import { useDeleteSweep, useStorage } from '../api/storage.js'
import { bytes, count, dateTime, plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { Failed, Loading } from '../parts/notice.js'
import { toast } from '../parts/toast.js'
import { Window } from '../parts/window.js'
import { Retention } from './retention.js'
import { DeleteSite } from './delete-site.js'
import { keptWords, purposeWords } from './storage-words.js'

/** What the site takes in the database, sweep by sweep, and what of it can go. */
export function StoragePart({ site }: { site: Site }) {
  const storage = useStorage(site.id)
  const [going, setGoing] = useState<StoredSweep | null>(null)
  return (
    <section className="px-4 pt-6" aria-label="Storage">
      <h2 className="text-[17px]">Storage</h2>
      {storage.isPending && <Loading what="what is stored" />}
      {storage.isError && <Failed error={storage.error} retry={() => void storage.refetch()} />}
      {storage.data && (
        <>
          <p className="max-w-3xl text-soft">
            {bytes(storage.data.bytes)} in the database, as it is stored and indexes aside:{' '}
            {plural(storage.data.sweeps.length, 'sweep')}, and {plural(storage.data.rehearsals, 'rehearsal')} with{' '}
            {bytes(storage.data.rehearsalBytes)}.
          </p>
          <Retention key={storage.data.keepFull} siteId={site.id} storage={storage.data} />
          {storage.data.sweeps.length > 0 && (
            <div className="mt-2 max-h-[46dvh] overflow-auto" tabIndex={0} role="group" aria-label="Stored sweeps">
              <table aria-label="Stored sweeps" className="figures w-full">
                <thead className="sticky top-0 bg-paper">
                  <tr className="border-b border-line text-left text-[12.5px] text-soft">
                    <th className="py-1 font-normal">Sweep</th>
                    <th className="py-1 font-normal">Lens</th>
                    <th className="py-1 text-right font-normal">pages</th>
                    <th className="py-1 text-right font-normal">readings</th>
                    <th className="py-1 text-right font-normal">takes</th>
                    <th className="py-1 pl-6 font-normal">kept for</th>
                    <th>
                      <span className="sr-only">What can be done</span>
                    </th>
                  </tr>
                </thead>
                <tbody>
                  {storage.data.sweeps.map((sweep) => (
                    <tr key={sweep.id} className="border-b border-line/60">
                      <th className="py-1 text-left font-normal whitespace-nowrap">
                        {purposeWords(sweep)} <span className="text-soft">{dateTime(sweep.startedAt)}</span>
                      </th>
                      <td className="max-w-64 truncate text-soft" title={sweep.lens ?? undefined}>
                        {sweep.lens}
                      </td>
                      <td className="text-right">{count(sweep.pages)}</td>
                      <td className="text-right">{count(sweep.readings)}</td>
                      <td className="text-right">{bytes(sweep.bytes)}</td>
                      <td className="pl-6 text-soft">{keptWords(sweep)}</td>
                      <td className="w-24 text-right">
                        {sweep.keptFor === null && (
                          <Button
                            weight="quiet"
                            className="h-7 px-2"
                            aria-label={`Delete sweep ${sweep.id} …`}
                            onClick={() => setGoing(sweep)}
                          >
                            Delete …
                          </Button>
                        )}
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
          )}
        </>
      )}
      {going && <DeleteSweep siteId={site.id} sweep={going} onClose={() => setGoing(null)} />}
      <DeleteSite site={site} />
    </section>
  )
}

function DeleteSweep({ siteId, sweep, onClose }: { siteId: number; sweep: StoredSweep; onClose(): void }) {
  const remove = useDeleteSweep(siteId)
  return (
    <Window
      title={`Delete sweep ${sweep.id}?`}
      note={`${plural(sweep.readings, 'reading')} of ${plural(sweep.pages, 'page')} of ${dateTime(sweep.startedAt)} go, with every figure that was worked out of them: ${bytes(sweep.bytes)}. Comparisons with it can’t be made any more, and it can’t be brought back.`}
      width={560}
      onClose={onClose}
    >
      {sweep.shown && (
        <p className="mt-2 border-l-2 border-plum pl-2">
          This is the sweep that is shown. The ledger, Standing and predictions go by an older one then, or by none.
        </p>
      )}
      <div className="mt-4 flex gap-2">
        <Button
          weight="danger"
          disabled={remove.isPending}
          onClick={() =>
            remove.mutate(sweep.id, {
              onSuccess: () => {
                toast(`Sweep ${sweep.id} is deleted.`)
                onClose()
              },
              onError: (error) => toast.error('Nothing is deleted', { description: error.message }),
            })
          }
        >
          Delete it
        </Button>
        <Button weight="quiet" onClick={onClose}>
          Keep it
        </Button>
      </div>
    </Window>
  )
}
