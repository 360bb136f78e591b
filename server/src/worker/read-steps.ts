import type { OnDemand } from '../on-demand/on-demand.model.js'
import { liveOrder } from './live-order.js'
import { readInLivingBrowser } from './read-in-living-browser.js'
import type { OnDemandTools } from './read-on-demand.js'

/** Plays steps on a page of the live site, each time on a fresh one, under the rules that are live. */
export async function readSteps(tools: OnDemandTools, { wish, taken }: OnDemand<'steps'>): Promise<void> {
  const order = await liveOrder(tools, wish)
  const asked = new Set(wish.steps.map(({ name }) => name))
  const times = structuredClone(taken)
  while (times.length < wish.times) {
    const { steps } = await readInLivingBrowser(tools, { ...order, steps: wish.steps }, false)
    times.push(
      steps.flatMap(({ name, outcome, why }) =>
        asked.has(name) ? [{ name, outcome, ...(why !== undefined && { why }) }] : [],
      ),
    )
    await tools.keep(times)
  }
}
