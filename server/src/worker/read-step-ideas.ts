import {
  actionsKey,
  placeOf,
  suggestSteps,
  withExpectation,
  type GuardLook,
  type PageOffers,
  type SeenThen,
  type Step,
} from '@unvelt/core'
import {
  OnDemandRow,
  type IdeaPage,
  type IdeasTaken,
  type OnDemand,
  type StepIdea,
} from '../on-demand/on-demand.model.js'
import { ownTrouble } from '../queue/own-trouble.js'
import { failureSentence } from '../reading/failure.js'
import { liveOrder } from './live-order.js'
import { readInLivingBrowser } from './read-in-living-browser.js'
import type { OnDemandTools } from './read-on-demand.js'

/** A step is relied on once it went through so often with what it is to bring. */
const TIMES = 2

/**
 * Looks at pages for what their visitors could do, tries each of it on the live page, learns what it brings, and plays it twice more
 * with that as what it expects. What sends something is tried only where the site takes it back.
 */
export async function readStepIdeas(tools: OnDemandTools, { id, wish, taken }: OnDemand<'ideas'>): Promise<void> {
  const all: IdeasTaken = structuredClone(taken)
  for (const page of wish.pages.slice(all.looked)) {
    // Whoever asked may have seen enough.
    if ((await OnDemandRow.count({ where: { id, state: 'waiting' } })) === 0) return
    try {
      await lookAt(tools, page, all)
    } catch (error) {
      if (tools.stopping() || ownTrouble(error)) throw error
      all.failed.push({ path: page.path, why: failureSentence(error) })
    }
    all.looked++
    await tools.keep(all)
  }
}

async function lookAt(tools: OnDemandTools, page: IdeaPage, all: IdeasTaken): Promise<void> {
  const { offers, reached } = await offersOf(tools, page)
  const opened = new Set(offers.shut.map(placeOf))
  const fresh: Step[] = []
  for (const step of suggestSteps(offers, tools.site.name)) {
    const known = all.ideas.find((idea) => isSame(idea.step, step))
    if (!known) fresh.push(step)
    else if (!known.kinds.includes(page.kind)) known.kinds.push(page.kind)
  }
  if (fresh.length === 0) return
  const takesBack = tools.site.connector?.measuring?.trials === true
  // The way home tells nothing of what has come.
  const siteName = { controls: [`link: ${tools.site.name}`] }
  const tried = fresh.filter(({ sends }) => !sends || takesBack)
  const looks = await play(tools, page, distinctNames(tried))
  const learnt = tried.map((step, n) => {
    const look = looks[n]
    if (look?.outcome !== 'done') return step
    // What an earlier step has opened may be open still.
    const before = seenThen(reached, ...looks.slice(0, n), siteName)
    const opens = step.actions.some((action) => 'at' in action && opened.has(action.at))
    return withExpectation(step, before, seenThen(look), opens)
  })
  const through = learnt.map(() => 0)
  const whys: (string | undefined)[] = looks.map(({ why }) => why)
  for (let time = 0; time < TIMES; time++)
    for (const [n, { outcome, why }] of (await play(tools, page, distinctNames(learnt))).entries())
      if (outcome === 'done') through[n]!++
      else whys[n] ??= why ?? 'what it is for is not there'
  for (const step of fresh) {
    const n = tried.indexOf(step)
    const why = whys[n]
    all.ideas.push({
      step: n < 0 ? step : learnt[n]!,
      path: page.path,
      device: page.device,
      kinds: [page.kind],
      through: n < 0 ? null : through[n]!,
      ...(why !== undefined && { why }),
    } satisfies StepIdea)
  }
}

/** What the page has for its visitors, and what they can reach and read before they do anything. */
async function offersOf(tools: OnDemandTools, page: IdeaPage): Promise<{ offers: PageOffers; reached: GuardLook }> {
  let offers: PageOffers | undefined
  let look: GuardLook | undefined
  const order = await liveOrder(tools, page)
  await readInLivingBrowser(
    tools,
    { ...order, texts: true, onOffers: (seen) => (offers = seen), onLook: (seen) => (look = seen) },
    false,
  )
  return { offers: offers!, reached: look! }
}

/** How each step went, in their order; those that were not come to are not there. */
async function play(
  tools: OnDemandTools,
  page: IdeaPage,
  steps: readonly Step[],
): Promise<GuardLook['steps'][number][]> {
  if (steps.length === 0) return []
  let look: GuardLook | undefined
  const order = await liveOrder(tools, page)
  await readInLivingBrowser(tools, { ...order, steps, texts: true, onLook: (seen) => (look = seen) }, false)
  return steps.map(
    ({ name }) =>
      look?.steps.find((step) => step.name === name) ?? { name, outcome: 'not there' as const, controls: [] },
  )
}

const seenThen = (...looks: Pick<GuardLook['steps'][number], 'controls' | 'texts'>[]): SeenThen => ({
  controls: looks.flatMap(({ controls }) => controls),
  texts: looks.flatMap(({ texts }) => texts ?? []),
})

/** Two things on a page may be called alike. */
const distinctNames = (steps: readonly Step[]): Step[] =>
  steps.map((step, n) => ({ ...step, name: `${n} ${step.name}` }))

/** Whether two steps do the same, whatever they type and whatever they expect then. */
function isSame(a: Step, b: Step): boolean {
  const done = ({ actions }: Step) =>
    actionsKey(
      actions
        .filter((action, n) => n === 0 || action.do !== 'expect')
        .map((action) => (action.do === 'type' ? { ...action, text: '' } : action)),
    )
  return done(a) === done(b)
}
