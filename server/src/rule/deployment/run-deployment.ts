import { QueryTypes, type Sequelize } from 'sequelize'
import type { DeploymentState } from '@unvelt/contract'
import { tellDeployment } from '../../events/tell.js'
import { ProofService } from '../../proof/proof.service.js'
import type { Hold } from '../../queue/job.js'
import type { DeployJob } from '../../queue/queue.js'
import { ConnectorError } from '../../site-http/connector-client.js'
import { SweepService } from '../../sweep/sweep.service.js'
import { DraftRow } from '../draft.model.js'
import { keepVersion } from '../keep-version.js'
import { sameSubject, type DraftRule } from '../merge-rules.js'
import { checkPages } from './check-pages.js'
import {
  caseOf,
  count,
  endDeployment,
  fail,
  say,
  whileAway,
  type Case,
  type DeploymentTools,
} from './deployment-case.js'
import { judge, notIn } from './deployment-plan.js'
import { atHand, DeploymentRow } from './deployment.model.js'
import { goBack, orGoBack } from './go-back.js'
import { netResult, startNet } from './net.js'
import { purgeAndWarm, put } from './site-acts.js'

/** A step that has to wait for others says so, and is taken up again. */
const STEPS: Partial<Record<DeploymentState, (given: Case) => Promise<void | 'wait'>>> = {
  begun: begin,
  sending: send,
  sent: purge,
  purged: check,
  checked: goLive,
  live: playGuards,
  watched: readAgain,
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
    const ended = await step(given)
    await hold.progressed()
    await tellDeployment(tools.sequelize, { siteId: row.siteId, deploymentId: row.id })
    if (ended === 'wait') return
  }
}

/** Nothing is written before it is clear that nobody else has. */
async function begin(given: Case): Promise<void> {
  const { row, connector } = given
  try {
    const { version } = await connector.rules()
    const { replaces } = atHand(row)
    if (version !== replaces)
      return fail(given, `The site’s rules are at version ${version}; expected ${replaces}. ${nothingWritten(row)}`)
  } catch (error) {
    if (error instanceof ConnectorError) return fail(given, `${error.message} ${nothingWritten(row)}`)
    throw error
  }
  await say(given, { state: 'sending' })
}

const nothingWritten = ({ parts }: DeploymentRow) =>
  parts?.at === 'rest' ? 'What went live first is live; nothing else was written.' : 'Nothing was written.'

async function send(given: Case): Promise<void> {
  const { row } = given
  const { rules, replaces } = atHand(row)
  try {
    await whileAway(given, 120, async () => {
      const version = await put(given, replaces, rules)
      if (version === null)
        return fail(given, `Somebody else changed the site’s rules meanwhile. ${nothingWritten(row)}`)
      await say(given, { state: 'sent', toVersion: version }, `The site took the rules as version ${version}.`)
    })
  } catch (error) {
    if (!(error instanceof ConnectorError)) throw error
    await fail(given, `${error.message} Whether the site has taken the rules is not known; compare them on Rules.`)
  }
}

async function purge(given: Case): Promise<void> {
  await orGoBack(given, async () => {
    await whileAway(given, 60, async () => {
      await say(given, { state: 'purged' }, ...(await purgeAndWarm(given)))
    })
  })
}

async function check(given: Case): Promise<void> {
  const { row, site, key, tools, toCheck, touched } = given
  await orGoBack(given, async () => {
    await whileAway(given, 60, async () => {
      const versions = { version: row.toVersion!, before: atHand(row).replaces }
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
    const version = row.toVersion!
    if (row.parts?.at === 'first') {
      const what = `${row.what}: first on ${count(row.parts.pageIds.length, 'page')}`
      await keepVersion(row, { version, rules: row.parts.rules, what }, transaction)
      return row.update({ state: 'live' }, { transaction })
    }
    await keepVersion(row, { version, rules: row.toRules, what: row.what }, transaction)
    const drafts = await DraftRow.findAll({ where: { siteId: row.siteId, id: row.draftIds }, transaction, lock: true })
    // One that was changed meanwhile is a draft still; one by which a rule goes has done so where there is none on it.
    const isDone = (rule: DraftRule) =>
      rule.removed ? !row.toRules.some((one) => sameSubject(one, rule)) : notIn([rule], row.toRules).length === 0
    const live = drafts.filter(({ rule }) => isDone(rule))
    await DraftRow.destroy({ where: { id: live.map(({ id }) => id) }, transaction })
    await row.update({ state: 'live' }, { transaction })
  })
}

/** Played as visitors see them, the guards say whether it breaks what the rehearsal could not see break. */
async function playGuards(given: Case): Promise<void | 'wait'> {
  const { row } = given
  if (row.parts?.at === 'first') return playFirst(given)
  const { site, tools, inUse } = given
  const { net = 'off' } = row.options
  const first = new Set(row.parts?.pageIds)
  const touched = given.touched.filter(({ id }) => !first.has(id))
  if (net === 'off' || touched.length === 0) return say(given, { state: 'watched' })
  // Else both sides would be what is live, and nothing could ever fail.
  if (!site.connector?.measuring?.olderRules)
    return say(given, { state: 'watched' }, 'The site makes no page under its rules before, so no guard is played.')
  if (row.netId === null)
    return (await startNet(tools, row, site, touched, inUse))
      ? 'wait'
      : say(given, { state: 'watched' }, 'No lens sees what it touches, so no guard is played.')
  const result = await netResult(row.netId)
  if (result.end === 'playing') return 'wait'
  if (result.end === 'breaks' && net === 'take-back')
    return say(given, { state: 'going-back', failure: result.said }, result.said)
  await say(given, { state: 'watched' }, result.said)
}

/** Guards on the first pages decide over the rest: where they don't all hold nothing is left. */
async function playFirst(given: Case): Promise<void | 'wait'> {
  const { row, site, tools, touched, inUse } = given
  const goesBack = (why: string) => say(given, { state: 'going-back', failure: why }, why)
  if (row.netId === null)
    return (await startNet(tools, row, site, touched, inUse))
      ? 'wait'
      : goesBack('No lens sees the pages that went first, so nobody can tell whether it holds there.')
  const result = await netResult(row.netId)
  if (result.end === 'playing') return 'wait'
  if (result.end !== 'holds') return goesBack(result.said)
  const parts = { ...row.parts!, at: 'rest' as const, version: row.toVersion }
  await say(given, { state: 'begun', parts, netId: null }, result.said, 'So it goes on to the rest.')
  await beginPart(given)
}

/** What a step is given hangs on the part. */
async function beginPart(given: Case): Promise<void> {
  Object.assign(given, await caseOf(given.tools, given.row, given.hold))
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
      const proofs = new ProofService(tools.sequelize, new SweepService(tools.sequelize, tools.queue))
      const proof = await proofs.startOnce(site, pages, {
        from: row.fromVersion,
        to: row.toVersion!,
        title: row.what,
        prediction: row.prediction,
      })
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
  await row.update({ proofId, state: 'live', finishedAt: new Date() })
}

/** As many as are read in a few minutes. */
const MOST_READ_AGAIN = 12

/** All that are to be carried on; one that waits for its guards has nothing to do until they are played. */
export async function openDeployments(sequelize: Sequelize): Promise<{ data: DeployJob }[]> {
  const rows = await sequelize.query<DeployJob>(
    `select deployment.id from deployment left join rehearsal on rehearsal.id = net_id
     where deployment.finished_at is null and (deployment.state <> 'live' or rehearsal.state is distinct from 'running')
     order by deployment.id`,
    { type: QueryTypes.SELECT },
  )
  return rows.map(({ id }) => ({ data: { id } }))
}
