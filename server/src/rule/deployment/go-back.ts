import type { Sequelize, Transaction } from 'sequelize'
import { searchesFor } from '../../culprit/searches-for.js'
import { RehearsalRow } from '../../rehearsal/rehearsal.model.js'
import { ConnectorError } from '../../site-http/connector-client.js'
import { DraftRow } from '../draft.model.js'
import { keepVersion } from '../keep-version.js'
import { sameSubject } from '../merge-rules.js'
import { at, fail, say, whileAway, type Case } from './deployment-case.js'
import type { DeploymentRow } from './deployment.model.js'
import { purgeAndWarm, put } from './site-acts.js'

/** Puts the rules before in the place of those that did not hold. */
export async function goBack(given: Case): Promise<void> {
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
        if (row.netId !== null) await draftAgain(row, transaction)
        await row.update({ state: 'taken-back', steps, finishedAt: new Date() }, { transaction })
      })
      await purgeAndWarm(given).catch(() => {})
      if (row.netId !== null) await findWhatBrokeIt(tools.sequelize, row.netId)
    })
  } catch (error) {
    if (!(error instanceof ConnectorError)) throw error
    await fail(given, `${row.failure} The rules before could not be put back either: ${error.message}`)
  }
}

/** What was live and broke a guard is drafted again, but for what somebody has drafted anew meanwhile. */
async function draftAgain({ siteId, drafts }: DeploymentRow, transaction: Transaction): Promise<void> {
  const present = await DraftRow.findAll({ where: { siteId }, transaction, lock: true })
  const free = drafts.filter((rule) => !present.some((one) => one.id === rule.id || sameSubject(one.rule, rule)))
  await DraftRow.bulkCreate(
    free.map((rule) => ({ id: rule.id, siteId, rule })),
    { transaction },
  )
}

/** The guilty ones are set aside, and the rest is rehearsed once more, as after a rehearsal that throws out what breaks a guard. */
async function findWhatBrokeIt(sequelize: Sequelize, netId: number): Promise<void> {
  const net = await RehearsalRow.findByPk(netId)
  if (!net) return
  await net.update({ best: { round: 1, after: null } })
  await searchesFor(sequelize, net)
}

/** What goes wrong on the site's side once it has the rules is a reason to go back. */
export async function orGoBack(given: Case, run: () => Promise<void>): Promise<void> {
  try {
    await run()
  } catch (error) {
    if (!(error instanceof ConnectorError)) throw error
    await say(given, { state: 'going-back', failure: error.message }, error.message)
  }
}
