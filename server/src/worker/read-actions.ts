import type { OnDemand, TriedAction } from '../on-demand/on-demand.model.js'
import { reachOf } from '../reach/reach.js'
import { askServer } from './ask-server.js'
import { ConnectorClient } from '../site-http/connector-client.js'
import { siteAddress } from '../site-http/site-address.js'
import type { OnDemandTools } from './read-on-demand.js'

const VISITOR = 'visitor'

/** Tries every action that the site offers, in turn, so that what drifts meanwhile drifts for all. */
export async function readActions({ turns, site, key, keep }: OnDemandTools, row: OnDemand<'actions'>): Promise<void> {
  const reach = reachOf(site)
  const { actions } = await new ConnectorClient(site.address, site.connector!.base, key!, reach).actions()
  const questions = actions.map(({ path, method, form, as = VISITOR }) => ({
    url: siteAddress(site.address, path),
    key,
    cache: 'bypass' as const,
    reach,
    siteId: site.id,
    ...(method === 'POST' && { form: form ?? {}, trial: as }),
  }))
  const before = new Map(row.taken.map((action) => [idOf(action), action]))
  const tried = actions.map(({ name, method, path, as = VISITOR }): TriedAction => {
    const action = { name, method, path, as, readings: [], traceIds: [] }
    return before.get(idOf(action)) ?? action
  })
  for (const question of questions) await turns.beside(() => askServer(question))
  for (let n = 0; n < row.wish.times; n++)
    for (const [index, question] of questions.entries()) {
      const action = tried[index]!
      if (action.readings.length > n) continue
      const { traceId, ...reading } = await turns.alone(() => askServer(question))
      action.readings.push(reading)
      if (traceId) action.traceIds.push(traceId)
      await keep(tried)
    }
}

const idOf = ({ method, path, as }: Pick<TriedAction, 'method' | 'path' | 'as'>) => `${method} ${path} ${as}`
