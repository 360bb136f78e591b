import type PgBoss from 'pg-boss'
import type { Sequelize } from 'sequelize'
import type { DeploymentState } from '@unvelt/contract'
import { tellDeployment } from '../../events/tell.js'
import { PageRow, rulePage } from '../../page/page.model.js'
import type { Hold } from '../../queue/job.js'
import { reachOf } from '../../reach/reach.js'
import { ConnectorClient } from '../../site-http/connector-client.js'
import { open } from '../../site-http/secret-box.js'
import { SiteRow } from '../../site/site.model.js'
import { changedAddOns, pagesToCheck, touchedPages } from './deployment-plan.js'
import { atHand, DeploymentRow, type Parts } from './deployment.model.js'
import { pagesInUse } from './pages-in-use.js'
import { patiently } from './patiently.js'

export interface DeploymentTools {
  sequelize: Sequelize
  queue: PgBoss
  secret: Buffer
}

/** All that a step is given. */
export interface Case {
  tools: DeploymentTools
  row: DeploymentRow
  site: SiteRow
  key: string
  connector: ConnectorClient
  hold: Hold
  touched: PageRow[]
  /** Pages on which something that changes was seen in use. */
  inUse: ReadonlySet<number>
  toCheck: PageRow[]
}

export async function caseOf(tools: DeploymentTools, row: DeploymentRow, hold: Hold): Promise<Case> {
  const site = (await SiteRow.findByPk(row.siteId))!
  const key = site.connectorKey === null ? '' : open(site.connectorKey, tools.secret)
  const connector = new ConnectorClient(site.address, site.connector!.base, key, reachOf(site))
  const pages = await PageRow.findAll({ where: { siteId: site.id, gone: false }, order: ['position'] })
  const asRulePages = pages.map((page) => ({
    ...rulePage(page),
    id: page.id,
    views: page.importedViews ?? page.views,
  }))
  const { rules } = atHand(row)
  const touched = touchedPages(asRulePages, row.fromRules, rules)
  const inUse = await pagesInUse(tools.sequelize, site.id, [...changedAddOns(row.fromRules, row.toRules)])
  const rowsOf = (chosen: { id: number }[]) => {
    const ids = new Set(chosen.map((page) => page.id))
    return pages.filter((page) => ids.has(page.id))
  }
  return {
    tools,
    row,
    site,
    key,
    connector,
    hold,
    touched: rowsOf(touched),
    inUse,
    toCheck: rowsOf(pagesToCheck(touched, inUse, row.id)),
  }
}

export const at = (said: string) => ({ at: new Date().toISOString(), said })

export async function say(
  { row, hold }: Case,
  change: { state?: DeploymentState; toVersion?: number; failure?: string; parts?: Parts; netId?: null },
  ...said: string[]
): Promise<void> {
  hold.check()
  await row.update({ ...change, steps: [...row.steps, ...said.map(at)] })
}

/** The site does not answer: said once a step, and waited for. */
export const whileAway = (given: Case, seconds: number, ask: () => Promise<void>) =>
  patiently(ask, { seconds, onWait: (why) => say(given, {}, `${why} Asking again.`) })

export async function fail({ row, tools }: Case, why: string): Promise<void> {
  await endDeployment(tools.sequelize, row.id, why)
  await row.reload()
}

/** Ends a change that can be brought neither forward nor back; what the site has then is told by comparing. */
export async function endDeployment(sequelize: Sequelize, id: number, failure: string): Promise<void> {
  const row = await DeploymentRow.findByPk(id)
  if (!row || row.finishedAt !== null) return
  // Whatever went wrong behind it, what is live is live; where only a part is, it has not come to its end.
  const isLive = (row.state === 'live' || row.state === 'watched') && row.parts?.at !== 'first'
  await row.update(
    isLive
      ? { state: 'live', steps: [...row.steps, at(failure)], finishedAt: new Date() }
      : { state: 'failed', failure, finishedAt: new Date() },
  )
  await tellDeployment(sequelize, { siteId: row.siteId, deploymentId: id })
}

export const count = (n: number, one: string, many = `${one}s`) => `${n} ${n === 1 ? one : many}`
