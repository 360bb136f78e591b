import { tellRetirement } from '../events/tell.js'
import type { Hold } from '../queue/job.js'
import type { TidyJob } from '../queue/queue.js'
import { reachOf } from '../reach/reach.js'
import { patiently } from '../rule/deployment/patiently.js'
import { ConnectorClient, ConnectorError } from '../site-http/connector-client.js'
import { open } from '../site-http/secret-box.js'
import { SiteRow } from '../site/site.model.js'
import { factsAfter } from '../site/facts-after.js'
import type { WorkerTools } from '../worker/worker-tools.js'
import { TidyingRow } from './tidying.model.js'

/** A site that is started anew is waited for so long. */
const PATIENCE_S = 45

/** Tidies up at the site. Whoever is killed in it is followed by somebody who finds the same snapshot, and what is gone already. */
export async function runTidying(tools: WorkerTools, { id }: TidyJob, hold: Hold): Promise<void> {
  const row = await TidyingRow.findByPk(id)
  if (!row || row.state !== 'running') return
  const site = (await SiteRow.findByPk(row.siteId))!
  const key = site.connectorKey === null ? '' : open(site.connectorKey, tools.secret)
  const connector = new ConnectorClient(site.address, site.connector!.base, key, reachOf(site))
  try {
    let said = ''
    const run = async () => {
      hold.check()
      said = 'tables' in row.wish ? await compact(row.wish.tables, connector) : await takeAway(row, row.wish, connector)
    }
    await patiently(run, { seconds: PATIENCE_S, onWait: async () => {} })
    hold.check()
    // Tables are of another size now.
    const unknown = await factsAfter(tools.sequelize, site, connector)
    await endTidying(tools, id, 'done', said + unknown)
  } catch (error) {
    if (!(error instanceof ConnectorError)) throw error
    hold.check()
    await endTidying(tools, id, 'failed', error.message)
  }
}

/** @throws ConnectorError where there is no snapshot that can be relied on; nothing goes then. */
async function takeAway(
  row: TidyingRow,
  { keeping, olderThanDays }: { keeping: string; olderThanDays: number },
  connector: ConnectorClient,
): Promise<string> {
  const rows = async () => (await connector.keepings()).find(({ id }) => id === keeping)?.ages[0]?.rows ?? 0
  const name = `Before ${row.name}, tidying ${row.id}`
  const made = (await connector.snapshots()).find((one) => one.name === name) ?? (await connector.makeSnapshot(name))
  const parts = await connector.partsOfSnapshot(made.id)
  if (parts.length === 0 || parts.some(({ sound }) => !sound))
    throw new ConnectorError('The snapshot can’t be relied on, so nothing was removed.')
  const before = row.rowsBefore ?? (await rows())
  await row.update({ snapshotId: made.id, rowsBefore: before })
  await connector.removeKeepings(keeping, olderThanDays)
  const after = await rows()
  return `${before - after} of ${before} removed; they are in snapshot ${made.id}.`
}

async function compact(tables: string[], connector: ConnectorClient): Promise<string> {
  const done = await connector.compact(tables)
  if (done.length === 0) throw new ConnectorError('The site does not say what it did.')
  const spared = done.reduce((sum, { before, after }) => sum + Math.max(0, before - after), 0)
  const longest = done.reduce((most, table) => (table.lockedMs > most.lockedMs ? table : most), done[0]!)
  return `${(spared / 1e6).toFixed(2)} MB given back; ${longest.name} was locked the longest, ${longest.lockedMs} ms.`
}

export async function endTidying(
  { sequelize }: Pick<WorkerTools, 'sequelize'>,
  id: number,
  state: 'done' | 'failed',
  said: string,
): Promise<void> {
  const row = await TidyingRow.findByPk(id)
  if (!row || row.state !== 'running') return
  await row.update({ state, said, finishedAt: new Date() })
  await tellRetirement(sequelize, { siteId: row.siteId, retirementId: 0 })
}
