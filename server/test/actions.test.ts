import 'reflect-metadata'
import { Sequelize } from 'sequelize'
import { OnDemandRow } from '../src/on-demand/on-demand.model.js'
import { runReadOnDemand } from '../src/worker/read-on-demand.js'
import { SiteRow } from '../src/site/site.model.js'
import { forgetOldTraces } from '../src/trace/trace-store.js'
import { aHold, workerTools } from './worker-tools.js'
import { appForTest, KEY } from './app-for-test.js'

/** What the stand-in's server does when somebody searches, posts or saves, and when nobody asks. */
let t: Awaited<ReturnType<typeof appForTest>>
let site: string
let siteId: number
beforeAll(async () => {
  t = await appForTest({ traced: true })
  const { body } = await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })
  siteId = body.id
  site = `/sites/${siteId}`
})
afterAll(() => t?.stop())

const runNewest = async () =>
  runReadOnDemand(workerTools(t.app.get(Sequelize)), { id: (await OnDemandRow.max('id')) as number }, aHold)

/** Spans come a moment after the answer that they tell of. */
async function once<T>(ask: () => Promise<T>, is: (value: T) => boolean): Promise<T> {
  for (;;) {
    const value = await ask()
    if (is(value)) return value
    await new Promise((resolve) => setTimeout(resolve, 50))
  }
}
interface Named {
  name: string
  slowestTrace: string | null
}

it('every action is tried in turn, with what each add-on did for it', async () => {
  const untried = (await t.call('GET', `${site}/actions`)).body
  expect(untried).toMatchObject({ cannot: null, underWay: 0 })
  expect((await t.call('POST', `${site}/actions`, { times: 3 })).status).toBe(202)
  expect((await t.call('POST', `${site}/actions`, { times: 3 })).status).toBe(409)
  await runNewest()
  const { body } = await once(
    () => t.call('GET', `${site}/actions`),
    (answer) => answer.body.actions.every(({ slowestTrace }: Named) => slowestTrace !== null),
  )
  expect(body).toMatchObject({ underWay: 0, failure: null })
  const byName = new Map<string, { work: { payers: { payer: string; queries: number }[] } }>(
    body.actions.map((action: Named) => [action.name, action]),
  )
  for (const action of body.actions)
    expect(action).toMatchObject({ failed: 0, failure: null, work: { firstByte: { count: 3 } } })
  const payers = (name: string) => byName.get(name)!.work.payers.map(({ payer }) => payer)
  expect(payers('post a comment')).toEqual(expect.arrayContaining(['comments', 'weed-filter']))
  expect(payers('save in the editor')).toEqual(expect.arrayContaining(['cms', 'link-warden']))
  expect(payers('add to basket')).toContain('seed-shop')
  // What no page load shows: the spam filter works only when something is posted.
  const filtered = (name: string) => byName.get(name)!.work.payers.find(({ payer }) => payer === 'weed-filter')!.queries
  expect([filtered('search'), filtered('post a comment')]).toEqual([0, 1])
  expect(body.actions[0].peakMemoryBytes).toBeGreaterThan(1e6)
})

it('the slowest trace of each can be read, and by nobody who looks after another site', async () => {
  const { slowest } = (await t.call('GET', `${site}/traces`)).body
  const comment = slowest.find(({ name }: Named) => name === 'POST /forms/comment')
  const { body } = await t.call('GET', `${site}/traces/${comment.traceId}`)
  expect(body.root).toEqual(comment)
  expect(body.spans[0]).toMatchObject({ depth: 0, fromMs: 0 })
  const words = body.spans.find(({ name }: Named) => /select word from weed_words/.test(name))
  expect(words).toMatchObject({ query: true, addon: 'weed-filter', times: 1 })
  expect(body.work.queries.length).toBeGreaterThan(1)
  expect((await t.call('GET', `/sites/${siteId + 1}/traces/${comment.traceId}`)).status).toBe(404)
  expect((await t.call('GET', `/sites/${siteId + 1}/traces`)).status).toBe(404)
})

it('scheduled tasks are listed apart: those at work with their time, others as declared', async () => {
  const declared = (await t.call('GET', `${site}/traces`)).body.tasks
  expect(declared.map(({ name }: Named) => name).sort()).toEqual(['nightly_copy', 'warden_round'])
  await t.standin.runTasks()
  const { body } = await once(
    () => t.call('GET', `${site}/traces`),
    (answer) => answer.body.tasks.every(({ slowestTrace }: Named) => slowestTrace !== null),
  )
  expect(body.tasks).toEqual(
    expect.arrayContaining([
      expect.objectContaining({ name: 'warden_round', addOn: 'link-warden', everySeconds: 3600, failed: 0 }),
      expect.objectContaining({ name: 'nightly_copy', addOn: 'nightly-copy', everySeconds: 86400 }),
    ]),
  )
})

it('of what is old, the slowest of each is kept with its spans', async () => {
  const sequelize = t.app.get(Sequelize)
  const before = (await t.call('GET', `${site}/traces`)).body.slowest
  const [all] = await sequelize.query('select count(*)::int n from trace_root')
  await sequelize.query(`update trace_root set started_at = started_at - interval '61 days'`)
  await sequelize.query(`update trace_part set received_at = received_at - interval '61 days'`)
  await forgetOldTraces(sequelize)
  const after = (await t.call('GET', `${site}/traces`)).body.slowest
  expect(after.map(({ traceId }: { traceId: string }) => traceId)).toEqual(
    before.map(({ traceId }: { traceId: string }) => traceId),
  )
  expect((await t.call('GET', `${site}/traces/${after[0].traceId}`)).body.spans.length).toBeGreaterThan(0)
  const [left] = await sequelize.query('select count(*)::int n from trace_root')
  expect((left[0] as { n: number }).n).toBeLessThan((all[0] as { n: number }).n)
})

it('a site that can’t take a form back is not tried', async () => {
  const row = (await SiteRow.findByPk(siteId))!
  const connector = row.connector!
  await row.update({ connector: { ...connector, measuring: { ...connector.measuring!, trials: false } } })
  expect((await t.call('GET', `${site}/actions`)).body.cannot).toMatch(/can’t try a form without meaning it/)
  expect((await t.call('POST', `${site}/actions`, {})).status).toBe(409)
  await row.update({ connector })
})

it('a site that is gone leaves its reason, and what was tried before', async () => {
  await t.call('POST', `${site}/actions`, { times: 2 })
  const row = (await SiteRow.findByPk(siteId))!
  const { address } = row
  await row.update({ address: 'http://fernhollow.localhost:65001' })
  await runNewest()
  await row.update({ address })
  const { body } = await t.call('GET', `${site}/actions`)
  expect(body).toMatchObject({ underWay: 0, failure: expect.stringMatching(/can’t be reached|refused/) })
})
