import 'reflect-metadata'
import { createServer, type AddressInfo } from 'node:net'
import { connect } from '../src/database/connect.js'
import { OnDemandRow } from '../src/on-demand/on-demand.model.js'
import { runReadOnDemand } from '../src/worker/read-on-demand.js'
import { SiteRow } from '../src/site/site.model.js'
import { aHold, workerTools } from './worker-tools.js'
import { appForTest, KEY } from './app-for-test.js'

/** A page of the real stand-in, asked for without a browser: made afresh and out of its page cache. */
let t: Awaited<ReturnType<typeof appForTest>>
let db: Awaited<ReturnType<typeof connect>>
let path: string
beforeAll(async () => {
  t = await appForTest()
  db = await connect(t.databaseUrl)
  const { body } = await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })
  const [page] = (await t.call('GET', `/sites/${body.id}/pages`)).body
  path = `/sites/${body.id}/pages/${page.id}/server-readings`
})
afterAll(async () => {
  await db?.close()
  await t?.stop()
})
const runNewest = async () => runReadOnDemand(workerTools(db), { id: (await OnDemandRow.max('id')) as number }, aHold)

it('tells answers made afresh from kept copies, with the site’s own work', async () => {
  expect((await t.call('GET', path)).body).toMatchObject({ underWay: 0, fresh: null, kept: null })
  expect(await t.call('POST', path, { times: 3 })).toMatchObject({ status: 202, body: { underWay: 6 } })
  expect((await t.call('POST', path, { times: 3 })).status).toBe(409)
  await runNewest()
  const { body } = await t.call('GET', path)
  expect(body).toMatchObject({
    underWay: 0,
    failed: 0,
    failure: null,
    fresh: { firstByte: { count: 3 } },
    kept: { firstByte: { count: 3 }, siteMs: null },
    keptBecause: expect.stringContaining('cache'),
  })
  // Other work on the machine only adds to a time.
  expect(body.kept.firstByte.least).toBeLessThan(body.fresh.firstByte.least)
  expect(body.fresh.siteMs).toBeLessThan(body.fresh.firstByte.most)
  expect(body.fresh.payers.map(({ payer }: { payer: string }) => payer)).toContain('seek-helper')
})

it('asks nothing twice when its job runs again', async () => {
  const before = await OnDemandRow.findAll({ raw: true })
  await runNewest()
  expect(await OnDemandRow.findAll({ raw: true })).toEqual(before)
})

it('refuses too many, and pages that are none', async () => {
  expect((await t.call('POST', path, { times: 51 })).status).toBe(422)
  expect((await t.call('POST', path.replace(/pages\/\d+/, 'pages/999999'), {})).status).toBe(404)
})

it('says why when nobody answers', async () => {
  const nobody = createServer()
  await new Promise<void>((resolve) => nobody.listen(0, '127.0.0.1', resolve))
  const { port } = nobody.address() as AddressInfo
  await new Promise((resolve) => nobody.close(resolve))
  await SiteRow.update({ address: `http://127.0.0.1:${port}` }, { where: {} })
  expect((await t.call('POST', path, { times: 1 })).status).toBe(202)
  await runNewest()
  expect((await t.call('GET', path)).body).toMatchObject({ underWay: 0, failure: expect.stringContaining('refused') })
})
