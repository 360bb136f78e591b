import { ActionRow, type TriedAction } from '../action/action.model.js'
import type { ActionsJob } from '../queue/queue.js'
import { reachOf } from '../reach/reach.js'
import { ConnectorClient, ConnectorError } from '../site-http/connector-client.js'
import { open } from '../site/secret-box.js'
import { whyUnreachable } from '../site-http/site-fetch.js'
import { SiteRow } from '../site/site.model.js'
import { askServer } from '../site-http/ask-server.js'
import type { WorkerTools } from './page-job.js'

const VISITOR = 'visitor'

/** Tries every action that the site offers, in turn, so that what drifts meanwhile drifts for all. */
export async function runActionsJob(
  { secret, turns }: Pick<WorkerTools, 'secret' | 'turns'>,
  { id }: ActionsJob,
): Promise<void> {
  const row = await ActionRow.findByPk(id)
  if (!row || row.state === 'done') return
  const site = (await SiteRow.findByPk(row.siteId))!
  const key = open(site.connectorKey!, secret)
  const reach = reachOf(site)
  let tried: TriedAction[] = []
  let failure: string | null = null
  try {
    const { actions } = await new ConnectorClient(site.address, site.connector!.base, key, reach).actions()
    const questions = actions.map(({ path, method, form, as = VISITOR }) => ({
      url: new URL(path, site.address),
      key,
      cache: 'bypass' as const,
      reach,
      siteId: site.id,
      ...(method === 'POST' && { form: form ?? {}, trial: as }),
    }))
    tried = actions.map(({ name, method, path, as = VISITOR }) => ({
      name,
      method,
      path,
      as,
      readings: [],
      traceIds: [],
    }))
    for (const question of questions) await turns.beside(() => askServer(question))
    for (let n = 0; n < row.wanted; n++)
      for (const [index, question] of questions.entries()) {
        const { traceId, ...reading } = await turns.alone(() => askServer(question))
        tried[index]!.readings.push(reading)
        if (traceId) tried[index]!.traceIds.push(traceId)
        await row.update({ actions: structuredClone(tried) })
      }
  } catch (error) {
    failure = error instanceof ConnectorError ? error.message : whyUnreachable(error, new URL(site.address).host)
  }
  await row.update({ actions: tried, failure, state: 'done', takenAt: new Date() })
}
