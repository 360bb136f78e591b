import { tellRetirement } from '../events/tell.js'
import type { Hold } from '../queue/job.js'
import type { RestoreJob } from '../queue/queue.js'
import { reachOf } from '../reach/reach.js'
import { purgeAll } from '../rule/deployment/purge-all.js'
import { patiently } from '../rule/deployment/patiently.js'
import { ConnectorClient, ConnectorError } from '../site-http/connector-client.js'
import { open } from '../site-http/secret-box.js'
import { SiteRow } from '../site/site.model.js'
import { factsAfter } from '../site/facts-after.js'
import type { WorkerTools } from '../worker/worker-tools.js'
import { answersAgain } from './page-answers.js'
import { SiteRestoreRow } from './site-restore.model.js'

/** A site that is started anew is waited for so long. */
const PATIENCE_S = 45

/**
 * Puts a snapshot back and reads back that it is. It can be done twice: whoever is killed in it is followed by somebody who puts the
 * same back again.
 */
export async function runRestore(tools: WorkerTools, { id }: RestoreJob, hold: Hold): Promise<void> {
  const row = await SiteRestoreRow.findByPk(id)
  if (!row || row.state !== 'running') return
  const site = (await SiteRow.findByPk(row.siteId))!
  const key = site.connectorKey === null ? '' : open(site.connectorKey, tools.secret)
  const connector = new ConnectorClient(site.address, site.connector!.base, key, reachOf(site))
  try {
    let said = ''
    const run = async () => {
      hold.check()
      said = await restore(row, connector)
      await purgeAll(site.id, connector)
    }
    await patiently(run, { seconds: PATIENCE_S, onWait: async () => {} })
    hold.check()
    // What is installed, and which pages there are, may be others now.
    const unknown = await factsAfter(tools.sequelize, site, connector)
    const answers = await answersAgain(site, key, row.snapshotId)
    await endRestore(tools, id, 'done', said + answers + unknown)
  } catch (error) {
    if (!(error instanceof ConnectorError)) throw error
    hold.check()
    await endRestore(tools, id, 'failed', error.message)
  }
}

/** @throws ConnectorError where the snapshot can't be relied on; nothing is put back then. */
async function restore({ snapshotId, addOn }: SiteRestoreRow, connector: ConnectorClient): Promise<string> {
  const mine = ({ of }: { of: string }) => addOn === null || of === addOn
  const before = (await connector.partsOfSnapshot(snapshotId)).filter(mine)
  if (before.some(({ sound }) => !sound))
    throw new ConnectorError('The snapshot is not what was written, so nothing was put back.')
  if (addOn === null) await connector.restoreAll(snapshotId)
  else await connector.restorePart(snapshotId, addOn)
  const after = (await connector.partsOfSnapshot(snapshotId)).filter(mine)
  // What is back works, and may have written already.
  const lacking = after.filter(({ now, rows }) => !now || now.rows < rows).map(({ name }) => name)
  if (lacking.length > 0) throw new ConnectorError(`Put back, but not all of it: ${lacking.join(', ')} lacks rows.`)
  const written = after.filter(({ now }) => now?.same !== true).length
  const changed = before.filter(({ now }) => now?.same !== true).length
  return `${counted(after.length, 'table')} read back, ${changed === 0 ? 'none of which had changed' : `${changed} of which had changed`}${
    written > 0 ? `; ${written === 1 ? 'one has' : `${written} have`} been written to since` : ''
  }.`
}

const counted = (n: number, one: string) => `${n} ${one}${n === 1 ? '' : 's'}`

export async function endRestore(
  { sequelize }: Pick<WorkerTools, 'sequelize'>,
  id: number,
  state: 'done' | 'failed',
  said: string,
): Promise<void> {
  const row = await SiteRestoreRow.findByPk(id)
  if (!row || row.state !== 'running') return
  await row.update({ state, said, finishedAt: new Date() })
  await tellRetirement(sequelize, { siteId: row.siteId, retirementId: 0 })
}
