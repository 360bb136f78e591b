import type { Retirement } from '@unvelt/contract'
import { useLeftovers } from '../api/retirements.js'
import { useSnapshots } from '../api/snapshots.js'
import { useKeepings } from '../api/tidy.js'
import { SnapshotsPart } from '../snapshots/snapshots-part.js'
import { KeepingsPart } from '../tidy/keepings-part.js'
import { LeftBehind } from './left-behind.js'

/** What only the site can tell. All of it is asked at once, and stands from the top down: what is about to be pressed moves no more. */
export function AskedOfSite({ siteId, open }: { siteId: number; open: Retirement[] }) {
  const leftovers = useLeftovers(siteId)
  const keepings = useKeepings(siteId)
  useSnapshots(siteId)
  return (
    <>
      <LeftBehind siteId={siteId} open={open} />
      {!leftovers.isPending && <KeepingsPart siteId={siteId} />}
      {!leftovers.isPending && !keepings.isPending && <SnapshotsPart siteId={siteId} />}
    </>
  )
}
