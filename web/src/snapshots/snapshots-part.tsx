import { useState } from 'react'
import type { SiteRestore, SiteSnapshot } from '@unvelt/contract'
import { useSnapshots } from '../api/snapshots.js'
import { bytes, dateTime } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { SnapshotTables } from './snapshot-tables.js'

/** The way back: what the site's snapshots hold, and what was put back from them. */
export function SnapshotsPart({ siteId }: { siteId: number }) {
  const { data, isPending, error, refetch } = useSnapshots(siteId)
  const [shown, setShown] = useState<number | null>(null)
  const running = data?.restores.find(({ state }) => state === 'running')
  return (
    <section aria-label="Snapshots" className="border-t border-line pb-3">
      <h2 className="px-4 pt-4 text-[17px]">Snapshots</h2>
      <p className="px-4 pb-1 text-[13px] text-soft">
        What can come back, as the site keeps it. Rules are not in them: their versions only grow.
      </p>
      {isPending && <p className="px-4 py-2 text-soft">Asking the site …</p>}
      {error && (
        <p className="px-4 py-2 text-plum">
          {error.message}{' '}
          <Button weight="quiet" onClick={() => void refetch()}>
            Ask again
          </Button>
        </p>
      )}
      {data?.snapshots.length === 0 && <p className="px-4 py-2">The site has none.</p>}
      <ul>
        {data?.snapshots.map((snapshot) => (
          <li key={snapshot.id} className="border-t border-line/60">
            <Head
              snapshot={snapshot}
              isShown={shown === snapshot.id}
              onShow={() => setShown(shown === snapshot.id ? null : snapshot.id)}
            />
            {shown === snapshot.id && (
              <SnapshotTables siteId={siteId} snapshot={snapshot} busy={running !== undefined} />
            )}
          </li>
        ))}
      </ul>
      {data && data.restores.length > 0 && (
        <ol aria-label="Put back" className="mt-2 px-4 text-[13.5px]">
          {data.restores.map((restore) => (
            <li key={restore.id} className={restore.state === 'failed' ? 'text-plum' : ''}>
              <span className="figures mr-3 text-soft">{dateTime(restore.askedAt)}</span>
              {restoreWords(restore)} {restore.who && <span className="text-soft">{restore.who}</span>}
            </li>
          ))}
        </ol>
      )}
    </section>
  )
}

interface HeadProps {
  snapshot: SiteSnapshot
  isShown: boolean
  onShow(): void
}

const Head = ({ snapshot: { id, name, madeAt, bytes: size }, isShown, onShow }: HeadProps) => (
  <div className="flex items-center gap-4 px-4 py-1.5">
    <span className="figures w-8 text-soft">{id}</span>
    <span className="min-w-0 flex-1 truncate font-semibold">{name}</span>
    <span className="figures whitespace-nowrap text-soft">{dateTime(madeAt)}</span>
    <span className="figures w-20 text-right">{bytes(size)}</span>
    <Button weight="quiet" aria-expanded={isShown} aria-label={`What is in snapshot ${id}`} onClick={onShow}>
      {isShown ? 'Fold it' : 'What is in it'}
    </Button>
  </div>
)

function restoreWords({ state, snapshotId, addOn, said }: SiteRestore): string {
  const what = addOn === null ? `Snapshot ${snapshotId}` : `${addOn}, from snapshot ${snapshotId},`
  if (state === 'running') return `${what} is being put back …`
  if (state === 'failed') return `${what} was not put back: ${said ?? 'nobody knows why.'}`
  return `${what} was put back. ${said ?? ''}`
}
