import type PgBoss from 'pg-boss'
import type { Sequelize } from 'sequelize'
import type { Rule } from '@unvelt/core'
import type { DeploymentState } from '@unvelt/contract'
import { tellDeployment } from '../../events/tell.js'
import { PageRow, rulePage } from '../../page/page.model.js'
import { ProofService } from '../../proof/proof.service.js'
import type { Hold } from '../../queue/job.js'
import type { DeployJob } from '../../queue/queue.js'
import { reachOf } from '../../reach/reach.js'
import { ConnectorClient, ConnectorError } from '../../site-http/connector-client.js'
import { open } from '../../site-http/secret-box.js'
import { SiteRow } from '../../site/site.model.js'
import { SweepService } from '../../sweep/sweep.service.js'
import { DraftRow } from '../draft.model.js'
import { sameSubject, type DraftRule } from '../merge-rules.js'
import { keepVersion } from '../keep-version.js'
import { checkPages } from './check-pages.js'
import { changedAddOns, judge, notIn, pagesToCheck, sending, touchedPages } from './deployment-plan.js'
import { DeploymentRow } from './deployment.model.js'
import { pagesInUse } from './pages-in-use.js'
import { patiently } from './patiently.js'

export interface DeploymentTools {
  sequelize: Sequelize
  queue: PgBoss
  secret: Buffer
}

/** Pages are warmed in parts, so that no call to the site takes long. */
const WARMED_AT_A_TIME = 10

/** All that a step is given. */
interface Case {
  tools: DeploymentTools
  row: DeploymentRow
  site: SiteRow
  key: string
  connector: ConnectorClient
  hold: Hold
  touched: PageRow[]
  toCheck: PageRow[]
}

const STEPS: Partial<Record<DeploymentState, (given: Case) => Promise<void>>> = {
  begun: begin,
  sending: send,
  sent: purge,
  purged: check,
  checked: goLive,
  live: readAgain,
  'going-back': goBack,
}

/**
 * Carries a change of the live rules on from where it is: each step writes down that it is done before the next begins, so
 * that whoever is killed in one is followed by somebody who goes on with it, or goes back.
 */
export async function runDeployment(tools: DeploymentTools, { id }: DeployJob, hold: Hold): Promise<void> {
  const row = await DeploymentRow.findByPk(id)
  if (!row || row.finishedAt !== null) return
  const given = await caseOf(tools, row, hold)
  while (row.finishedAt === null) {
    hold.check()
    const step = STEPS[row.state]
    if (!step) return endDeployment(tools.sequelize, id, `It is in a state that nobody knows: ${row.state}.`)
    await step(given)
    await hold.progressed()
    await tellDeployment(tools.sequelize, { siteId: row.siteId, deploymentId: row.id })
  }
}

async function caseOf(tools: DeploymentTools, row: DeploymentRow, hold: Hold): Promise<Case> {
  const site = (await SiteRow.findByPk(row.siteId))!
  const key = site.connectorKey === null ? '' : open(site.connectorKey, tools.secret)
  const connector = new ConnectorClient(site.address, site.connector!.base, key, reachOf(site))
  const pages = await PageRow.findAll({ where: { siteId: site.id, gone: false }, order: ['position'] })
  const asRulePages = pages.map((page) => ({
    ...rulePage(page),
    id: page.id,
    views: page.importedViews ?? page.views,
  }))
  const touched = touchedPages(asRulePages, row.fromRules, row.toRules)
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
    toCheck: rowsOf(pagesToCheck(touched, inUse, row.id)),
  }
}

const at = (said: string) => ({ at: new Date().toISOString(), said })

async function say(
  { row, hold }: Case,
  change: { state?: DeploymentState; toVersion?: number; failure?: string },
  ...said: string[]
): Promise<void> {
  hold.check()
  await row.update({ ...change, steps: [...row.steps, ...said.map(at)] })
}

/** The site does not answer: said once a step, and waited for. */
const whileAway = (given: Case, seconds: number, ask: () => Promise<void>) =>
  patiently(ask, { seconds, onWait: (why) => say(given, {}, `${why} Asking again.`) })

/** Nothing is written before it is clear that nobody else has. */
async function begin(given: Case): Promise<void> {
  const { row, connector } = given
  try {
    const { version } = await connector.rules()
    if (version !== row.fromVersion)
      return fail(
        given,
        `The site’s rules are at version ${version}; expected ${row.fromVersion}. Nothing was written.`,
      )
  } catch (error) {
    if (error instanceof ConnectorError) return fail(given, `${error.message} Nothing was written.`)
    throw error
  }
  await say(given, { state: 'sending' })
}

async function send(given: Case): Promise<void> {
  const { row } = given
  try {
    await whileAway(given, 120, async () => {
      const version = await put(given, row.fromVersion, row.toRules)
      if (version === null)
        return fail(given, 'Somebody else changed the site’s rules meanwhile. Nothing of this change was written.')
      await say(given, { state: 'sent', toVersion: version }, `The site took the rules as version ${version}.`)
    })
  } catch (error) {
    if (!(error instanceof ConnectorError)) throw error
    await fail(given, `${error.message} Whether the site has taken the rules is not known; compare them on Rules.`)
  }
}

/** Sends rules in the place of a version, once. Null where somebody else was first. */
async function put({ connector, hold }: Case, replaced: number, rules: Rule[]): Promise<number | null> {
  const next = sending(replaced, rules, await connector.rules())
  if (next.do === 'stop') return null
  if (next.do === 'go on') return next.version
  hold.check()
  try {
    return await connector.putRules(rules, replaced)
  } catch (error) {
    if (error instanceof ConnectorError && error.fault === 'stale') return null
    throw error
  }
}

async function purge(given: Case): Promise<void> {
  await orGoBack(given, async () => {
    await whileAway(given, 60, async () => {
      await say(given, { state: 'purged' }, ...(await purgeAndWarm(given)))
    })
  })
}

async function purgeAndWarm({ connector, touched, toCheck }: Case): Promise<string[]> {
  if (touched.length === 0) return []
  const { caches } = await connector.purge(touched.map(({ path }) => path))
  let warmed = 0
  for (let from = 0; from < toCheck.length; from += WARMED_AT_A_TIME)
    warmed += (await connector.warm(toCheck.slice(from, from + WARMED_AT_A_TIME).map(({ path }) => path))).warmed
  return [
    ...caches.map(({ name, purged }) => `Of the ${name}, ${count(purged, 'copy', 'copies')} purged.`),
    `${count(warmed, 'page')} warmed.`,
  ]
}

async function check(given: Case): Promise<void> {
  const { row, site, key, tools, toCheck, touched } = given
  await orGoBack(given, async () => {
    await whileAway(given, 60, async () => {
      const versions = { version: row.toVersion!, before: row.fromVersion }
      const checked = await checkPages({ site, key, secret: tools.secret }, toCheck, versions).catch(
        (error: unknown) => {
          throw error instanceof TypeError ? new ConnectorError('The site does not answer.', 'address') : error
        },
      )
      const { stands, said } = judge(checked, { version: row.toVersion!, touched: touched.length })
      if (!stands) throw new ConnectorError(said.join(' '))
      await say(given, { state: 'checked' }, ...said)
    })
  })
}

async function goLive(given: Case): Promise<void> {
  const { row, tools, hold } = given
  hold.check()
  await tools.sequelize.transaction(async (transaction) => {
    await keepVersion(row, { version: row.toVersion!, rules: row.toRules, what: row.what }, transaction)
    const drafts = await DraftRow.findAll({ where: { siteId: row.siteId, id: row.draftIds }, transaction, lock: true })
    // One that was changed meanwhile is a draft still; one by which a rule goes has done so where there is none on it.
    const isDone = (rule: DraftRule) =>
      rule.removed ? !row.toRules.some((one) => sameSubject(one, rule)) : notIn([rule], row.toRules).length === 0
    const live = drafts.filter(({ rule }) => isDone(rule))
    await DraftRow.destroy({ where: { id: live.map(({ id }) => id) }, transaction })
    await row.update({ state: 'live' }, { transaction })
  })
}

/** That the pages can't be read again just now takes nothing from the change. */
async function readAgain(given: Case): Promise<void> {
  const { row, site, tools, touched, toCheck } = given
  const { readAgain: which } = row.options
  const seen = (which === 'all' ? touched : toCheck).filter(({ area, signedIn }) => area === 'public' && !signedIn)
  const pages = which === 'none' ? [] : which === 'all' ? seen : seen.slice(0, MOST_READ_AGAIN)
  if (which !== 'none' && seen.length === 0 && touched.length > 0)
    await say(given, {}, 'Only people who sign in see what it touches, so no page is read before and after.')
  let proofId: number | null = null
  if (pages.length > 0)
    try {
      const proofs = new ProofService(new SweepService(tools.sequelize, tools.queue))
      const proof = await proofs.startOnce(site, pages, { from: row.fromVersion, to: row.toVersion!, title: row.what })
      proofId = proof.id
      await say(
        given,
        {},
        pages.length === touched.length
          ? `${count(pages.length, 'page')} to be read before and after.`
          : `${pages.length} of ${touched.length} pages to be read before and after.`,
      )
    } catch (error) {
      await say(given, {}, `The pages are not read again: ${(error as Error).message}`)
    }
  await row.update({ proofId, finishedAt: new Date() })
}

/** As many as are read in a few minutes. */
const MOST_READ_AGAIN = 12

async function goBack(given: Case): Promise<void> {
  const { row, tools, hold } = given
  try {
    await whileAway(given, 600, async () => {
      const version = await put(given, row.toVersion!, row.fromRules)
      if (version === null)
        return fail(
          given,
          `${row.failure} The rules before could not be put back: somebody else has changed them since.`,
        )
      hold.check()
      await tools.sequelize.transaction(async (transaction) => {
        const what = `${row.what}: did not hold, the rules before it again`
        await keepVersion(row, { version, rules: row.fromRules, what }, transaction)
        const steps = [...row.steps, at(`The rules before were put back, as version ${version}.`)]
        await row.update({ state: 'taken-back', steps, finishedAt: new Date() }, { transaction })
      })
      await purgeAndWarm(given).catch(() => {})
    })
  } catch (error) {
    if (!(error instanceof ConnectorError)) throw error
    await fail(given, `${row.failure} The rules before could not be put back either: ${error.message}`)
  }
}

/** What goes wrong on the site's side once it has the rules is a reason to go back. */
async function orGoBack(given: Case, run: () => Promise<void>): Promise<void> {
  try {
    await run()
  } catch (error) {
    if (!(error instanceof ConnectorError)) throw error
    await say(given, { state: 'going-back', failure: error.message }, error.message)
  }
}

async function fail({ row, tools }: Case, why: string): Promise<void> {
  await endDeployment(tools.sequelize, row.id, why)
  await row.reload()
}

/** Ends a change that can be brought neither forward nor back; what the site has then is told by comparing. */
export async function endDeployment(sequelize: Sequelize, id: number, failure: string): Promise<void> {
  const row = await DeploymentRow.findByPk(id)
  if (!row || row.finishedAt !== null) return
  await row.update({ state: 'failed', failure, finishedAt: new Date() })
  await tellDeployment(sequelize, { siteId: row.siteId, deploymentId: id })
}

export const openDeployments = async (): Promise<{ data: DeployJob }[]> =>
  (await DeploymentRow.findAll({ where: { finishedAt: null }, attributes: ['id'], order: ['id'] })).map(({ id }) => ({
    data: { id },
  }))

const count = (n: number, one: string, many = `${one}s`) => `${n} ${n === 1 ? one : many}`
