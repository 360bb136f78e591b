import { missedRequests, searchesFor } from '@unvelt/core'
import type { RetirementAct } from '@unvelt/contract'
import { AddOnRow } from '../add-on/add-on.model.js'
import { tellRetirement } from '../events/tell.js'
import type { Hold } from '../queue/job.js'
import type { RetireJob } from '../queue/queue.js'
import { reachOf } from '../reach/reach.js'
import { purgeAll } from '../rule/deployment/purge-all.js'
import { patiently } from '../rule/deployment/patiently.js'
import { ConnectorClient, ConnectorError } from '../site-http/connector-client.js'
import { open } from '../site-http/secret-box.js'
import { SiteRow } from '../site/site.model.js'
import { answersAgain, keepAnswers } from '../snapshot/page-answers.js'
import type { WorkerTools } from '../worker/worker-tools.js'
import { leftoverView } from './leftover-view.js'
import { logged, RetirementRow } from './retirement.model.js'
import { watchWordsOf } from './watch-words.js'

/** A site that is started anew is waited for so long. */
const PATIENCE_S = 45
/** A snapshot's whole name may be of 200 characters. */
const LONGEST_NAME = 120

interface Case {
  row: RetirementRow
  site: SiteRow
  connector: ConnectorClient
  key: string
}

/**
 * Each act can be done twice: whoever is killed in one is followed by somebody who does it again, finds what is done already, and
 * writes down that it is.
 */
const ACTS: Record<RetirementAct, (given: Case) => Promise<Partial<RetirementRow>>> = {
  snapshot,
  off: (given) => switchTo(given, false),
  on: (given) => switchTo(given, true),
  look,
  remove,
  clear,
  restore,
}

/** Does at the site what the sheet asks for. What the site refuses is written down there, and nothing else is done. */
export async function runRetirement(tools: WorkerTools, { id }: RetireJob, hold: Hold): Promise<void> {
  const row = await RetirementRow.findByPk(id)
  if (!row?.doing) return
  const site = (await SiteRow.findByPk(row.siteId))!
  const key = site.connectorKey === null ? '' : open(site.connectorKey, tools.secret)
  const connector = new ConnectorClient(site.address, site.connector!.base, key, reachOf(site))
  const act: RetirementAct = row.doing
  try {
    let change: Partial<RetirementRow> = {}
    const run = async () => {
      hold.check()
      change = await ACTS[act]({ row, site, connector, key })
    }
    await patiently(run, { seconds: PATIENCE_S, onWait: async () => {} })
    hold.check()
    await row.update({ ...change, doing: null, doingIds: null, failure: null })
  } catch (error) {
    if (!(error instanceof ConnectorError)) throw error
    hold.check()
    await row.update({
      doing: null,
      doingIds: null,
      failure: error.message,
      log: logged(row, `${DOING[act]} failed: ${error.message}`),
    })
  }
  await tellRetirement(tools.sequelize, { siteId: row.siteId, retirementId: id })
}

export async function endAct(tools: Pick<WorkerTools, 'sequelize'>, id: number, why: string): Promise<void> {
  const row = await RetirementRow.findByPk(id)
  if (!row?.doing) return
  const act: RetirementAct = row.doing
  await row.update({
    doing: null,
    doingIds: null,
    failure: why,
    log: logged(row, `${DOING[act]} failed: ${why}`),
  })
  await tellRetirement(tools.sequelize, { siteId: row.siteId, retirementId: id })
}

const DOING: Record<RetirementAct, string> = {
  snapshot: 'Making a snapshot',
  off: 'Switching it off',
  on: 'Switching it on',
  look: 'Looking for what is missed and what is left',
  remove: 'Removing it',
  clear: 'Removing what is left of it',
  restore: 'Putting it back',
}

/** One of this name is not made twice. It counts only once it was read back. */
async function snapshot({ row, site, connector, key }: Case): Promise<Partial<RetirementRow>> {
  const name = `${row.name.slice(0, LONGEST_NAME)} before it goes, ${row.id}.${row.log.filter(({ said }) => said.startsWith('Snapshot ')).length + 1}`
  const made = (await connector.snapshots()).find((one) => one.name === name) ?? (await connector.makeSnapshot(name))
  const parts = await connector.partsOfSnapshot(made.id)
  const own = parts.filter(({ of }) => of === row.slug)
  const missing = row.tableNames.filter((table) => !own.some((part) => part.name === table))
  const sound = parts.length > 0 && parts.every((part) => part.sound) && missing.length === 0
  const rows = own.reduce((sum, part) => sum + part.rows, 0)
  if (sound) await keepAnswers(site, key, { snapshotId: made.id, first: row.worklist.map(({ pageId }) => pageId) })
  return {
    snapshot: { id: made.id, name, madeAt: made.madeAt, bytes: made.bytes, rows, tables: own.length, sound },
    log: logged(
      row,
      sound
        ? `Snapshot ${made.id} made and read back: ${parts.length} tables, ${own.length} of them its own with ${counted(rows, 'row')}.`
        : `Snapshot ${made.id} can’t be relied on: ${missing.length > 0 ? `${missing.join(', ')} is not in it` : 'it is not what was written'}.`,
    ),
  }
}

async function switchTo(given: Case, active: boolean): Promise<Partial<RetirementRow>> {
  const { row, site, connector } = given
  if (row.features) await switchFeatures(given, row.features, active)
  else await switchWhole(given, active)
  await purgeAll(site.id, connector)
  return {
    offAt: active ? null : (row.offAt ?? new Date()),
    missed: [],
    searched: [],
    log: logged(row, active ? 'Switched on again.' : 'Switched off.'),
  }
}

async function switchFeatures({ row, site, connector }: Case, features: string[], on: boolean): Promise<void> {
  const wished = new Set(features)
  const state = await connector.setFeatures(row.slug, Object.fromEntries(features.map((feature) => [feature, on])))
  const wrong = state.features.filter((feature) => wished.has(feature.slug) && feature.on !== on)
  if (wrong.length > 0)
    throw new ConnectorError(
      `The site says that these are switched ${on ? 'off' : 'on'}: ${wrong.map(({ name }) => name).join(', ')}.`,
    )
  const addOn = await AddOnRow.findOne({ where: { siteId: site.id, slug: row.slug } })
  await addOn?.update({
    features: addOn.features.map((feature) => (wished.has(feature.slug) ? { ...feature, on } : feature)),
  })
}

async function switchWhole({ row, site, connector }: Case, active: boolean): Promise<void> {
  const state = await connector.switchAddOn(row.slug, active)
  if (state.active !== active)
    throw new ConnectorError(`The site says that ${row.name} is switched ${state.active ? 'on' : 'off'}.`)
  await AddOnRow.update({ active }, { where: { siteId: site.id, slug: row.slug } })
}

async function look({ row, site, connector }: Case): Promise<Partial<RetirementRow>> {
  const addOn = await AddOnRow.findOne({ where: { siteId: site.id, slug: row.slug } })
  const paths = (addOn?.files ?? []).map(({ path }) => path).filter((path) => path.startsWith('/'))
  const since = row.offAt ?? row.openedAt
  const log = row.offAt ? await connector.accessLog() : ''
  const missed = missedRequests(log, since, paths)
  const searched = searchesFor(log, since, watchWordsOf(row, addOn))
  return { missed, searched, leftovers: await leftoversOf({ row, connector }), lookedAt: new Date() }
}

/** Those that the site itself says were its own. */
async function leftoversOf({ row, connector }: Pick<Case, 'row' | 'connector'>) {
  const owners = new Set([row.slug, row.name])
  return (await connector.leftovers()).filter(({ of }) => owners.has(of)).map((one) => leftoverView(one, row.offAt))
}

async function remove(given: Case): Promise<Partial<RetirementRow>> {
  const { row, site, connector } = given
  const fresh = await freshSnapshot(given)
  const { addOns } = await connector.inventory()
  // Killed behind the removal, it is gone already.
  if (addOns.some(({ slug }) => slug === row.slug)) await connector.removeAddOn(row.slug)
  await AddOnRow.update({ active: false, gone: true }, { where: { siteId: site.id, slug: row.slug } })
  await purgeAll(site.id, connector)
  const leftovers = await leftoversOf({ row, connector })
  return {
    ...fresh,
    removedAt: row.removedAt ?? new Date(),
    leftovers,
    lookedAt: new Date(),
    log: logged(
      fresh,
      `Removed. ${leftovers.length === 1 ? 'One thing is' : `${leftovers.length} things are`} left of it.`,
    ),
  }
}

/**
 * What has changed since the snapshot would be lost, so there is a newer one before anything goes.
 * @throws ConnectorError where it can't be relied on; nothing is removed then.
 */
async function freshSnapshot(given: Case): Promise<Pick<RetirementRow, 'snapshot' | 'log'>> {
  const { row, connector } = given
  if (row.snapshot) {
    const own = (await connector.partsOfSnapshot(row.snapshot.id)).filter(({ of }) => of === row.slug)
    // What is not there any more has gone by the same act, before it was killed.
    if (own.every(({ sound, now }) => sound && (now == null || now.same)))
      return { snapshot: row.snapshot, log: row.log }
  }
  const made = await snapshot(given)
  if (!made.snapshot?.sound) throw new ConnectorError('The snapshot can’t be relied on, so nothing was removed.')
  return { snapshot: made.snapshot, log: made.log ?? row.log }
}

/** Only what was chosen, and only what is left of this add-on. */
async function clear({ row, connector }: Case): Promise<Partial<RetirementRow>> {
  // It was sound when it was made; what is taken away now has nowhere else to come back from.
  const kept = row.snapshot ? await connector.partsOfSnapshot(row.snapshot.id) : []
  if (kept.length === 0 || kept.some(({ sound }) => !sound))
    throw new ConnectorError('The snapshot can’t be relied on any more, so nothing was removed.')
  const chosen = new Set(row.doingIds ?? [])
  const doomed = (await leftoversOf({ row, connector })).filter(({ id }) => chosen.has(id))
  if (doomed.length > 0) await connector.removeLeftovers(doomed.map(({ id }) => id))
  const leftovers = await leftoversOf({ row, connector })
  const still = doomed.filter(({ id }) => leftovers.some((one) => one.id === id))
  return {
    leftovers,
    lookedAt: new Date(),
    log: logged(
      row,
      `${doomed.length - still.length} leftovers removed: ${doomed.map(({ id }) => id).join(', ') || 'none'}.${
        still.length > 0 ? ` Still there: ${still.map(({ id }) => id).join(', ')}.` : ''
      }`,
    ),
  }
}

/** From its own snapshot, and proved by reading it back. */
async function restore({ row, site, connector, key }: Case): Promise<Partial<RetirementRow>> {
  if (!row.snapshot) throw new ConnectorError('There is no snapshot to put it back from.')
  await connector.restorePart(row.snapshot.id, row.slug)
  const parts = (await connector.partsOfSnapshot(row.snapshot.id)).filter(({ of }) => of === row.slug)
  // Once it is back it works, and may have written already.
  const lacking = parts.filter(({ now, rows }) => !now || now.rows < rows).map(({ name }) => name)
  if (row.wasGone) {
    const leftovers = await leftoversOf({ row, connector })
    return {
      leftovers,
      log: logged(row, `Put back from snapshot ${row.snapshot.id}: ${counted(leftovers.length, 'thing')}.`),
    }
  }
  const found = (await connector.inventory()).addOns.find(({ slug }) => slug === row.slug)
  if (!found) throw new ConnectorError(`The site does not list ${row.name}, though it says that it was put back.`)
  if (lacking.length > 0) throw new ConnectorError(`Put back, but not all of it: ${lacking.join(', ')} lacks rows.`)
  await AddOnRow.update({ active: found.active, gone: false }, { where: { siteId: site.id, slug: row.slug } })
  await purgeAll(site.id, connector)
  const rows = parts.reduce((sum, part) => sum + part.rows, 0)
  return {
    removedAt: null,
    offAt: found.active ? null : row.offAt,
    leftovers: null,
    missed: [],
    searched: [],
    log: logged(
      row,
      `Put back from snapshot ${row.snapshot.id}: ${counted(parts.length, 'table')} with ${counted(rows, 'row')}, ${
        parts.every(({ now }) => now?.same) ? 'the same as they were' : 'and it has written to them since'
      }.${await answersAgain(site, key, row.snapshot.id)}`,
    ),
  }
}

const counted = (n: number, one: string) => `${n} ${one}${n === 1 ? '' : 's'}`
