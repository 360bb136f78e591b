import { existsSync } from 'node:fs'
import { PlainError } from './fail.mjs'
import { PAST_FILE, loadPast } from './past.mjs'
import { loadRehearsal, REHEARSAL_FILE } from './past-rehearsal.mjs'
import { DEPLOYMENTS_FILE, loadDeployments } from './past-deployments.mjs'
import { loadWeighIn, WEIGH_IN_FILE } from './past-weigh-in.mjs'
import { retirePast } from './past-retirements.mjs'
import { sayPast } from './past-people.mjs'
import { bringTo, connectorOf, PAST } from './past-states.mjs'

/**
 * Where there is no site yet: brings the stand-in to its present state, registers it, and gives it its recorded past.
 * Without a recording its first sweep is started instead.
 * @param full Whether with all that is recorded beside the sweeps.
 */
export async function seedDemo(stack, { full = true } = {}) {
  const { address, standinAddress, connectorKey } = stack
  const call = caller(address)
  if ((await call('GET', '/sites')).length > 0) return
  console.log('Registering Fernhollow Arboretum …')
  const recorded = existsSync(PAST_FILE)
  if (recorded) await bringTo(PAST.at(-1), connectorOf(stack))
  const site = await call('POST', '/sites', { address: standinAddress, connectorKey, local: true })
  if (!recorded) {
    console.log('No past is recorded; starting the first sweep …')
    await call('POST', `/sites/${site.id}/sweeps`, {})
    return
  }
  const began = Date.now()
  await loadPast(stack, site.id)
  if (full && existsSync(DEPLOYMENTS_FILE)) await loadDeployments(stack, site.id)
  if (full && existsSync(REHEARSAL_FILE)) await loadRehearsal(stack, site.id)
  if (full && existsSync(WEIGH_IN_FILE)) await loadWeighIn(stack, site.id)
  await sayPast(site.id, call)
  if (full) await retirePast(stack, site.id, call)
  await readyPredictions(site.id, call)
  console.log(`Its past of ${PAST.length} sweeps was loaded in ${((Date.now() - began) / 1000).toFixed(1)} s.`)
}

/** What predictions are summed from is kept when a page is read; of what was read elsewhere it is made when somebody asks first. */
async function readyPredictions(siteId, call) {
  const [addOn] = await call('GET', `/sites/${siteId}/add-ons`)
  const everywhere = { addon: addOn.slug, effect: 'leave-out', place: { level: 'everywhere' } }
  await call('POST', `/sites/${siteId}/predictions`, { rules: [everywhere] })
}

/** Speaks Unvelt's own API. */
export const caller = (address) => async (method, path, body) => {
  const text = typeof body === 'string'
  const response = await fetch(`${address}/api${path}`, {
    method,
    ...(body !== undefined && {
      headers: { 'content-type': text ? 'application/octet-stream' : 'application/json' },
      body: text ? body : JSON.stringify(body),
    }),
  })
  if (response.status === 204) return undefined
  const answer = await response.json()
  if (!response.ok) throw new PlainError(`the demo data could not be made: ${answer.title ?? response.status}`)
  return answer
}
