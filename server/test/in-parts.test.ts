import { Sequelize } from 'sequelize'
import type { GuardResult } from '@unvelt/core'
import type { Deployment } from '@unvelt/contract'
import { askSite } from '../../testing/ask-site.js'
import { CONFIG } from '../src/config/config.module.js'
import type { Config } from '../src/config/config.js'
import { PageRow } from '../src/page/page.model.js'
import { QUEUE } from '../src/queue/queue.module.js'
import { RehearsalPageRow, RehearsalRow } from '../src/rehearsal/rehearsal.model.js'
import { Deployer } from '../src/rule/deployment/deployer.js'
import type { DeploymentTools } from '../src/rule/deployment/deployment-case.js'
import { PutOffService } from '../src/rule/deployment/put-off.service.js'
import { runDeployment } from '../src/rule/deployment/run-deployment.js'
import { SiteRow } from '../src/site/site.model.js'
import { appForTest, KEY } from './app-for-test.js'
import { aHold } from './worker-tools.js'

/** A change goes live on one page of each kind, and on the rest only where all guards hold there. */
let t: Awaited<ReturnType<typeof appForTest>>
let tools: DeploymentTools
let site: string

beforeAll(async () => {
  t = await appForTest()
  await t.app.get(Deployer).stop()
  const { secret } = t.app.get<Config>(CONFIG)
  tools = { sequelize: t.app.get(Sequelize), queue: t.app.get(QUEUE), secret }
  const { body } = await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })
  site = `/sites/${body.id}`
  // Guards of the first part are played even where those of whole changes are not.
  await t.call('PATCH', site, { net: 'off' })
})
afterAll(() => t?.stop())

const PUBLIC = { level: 'area', area: 'public' }
const deployment = async (id: number): Promise<Deployment> => (await t.call('GET', `/deployments/${id}`)).body
const go = (id: number) => runDeployment(tools, { id }, aHold)
const drafted = async () => (await t.call('GET', `${site}/drafts`)).body.rules.length
const html = async (path: string) => (await askSite(t.standin.address, path)).text
const has = async (path: string) => (await html(path)).includes('pass-it-on')

async function begin(place: object = PUBLIC): Promise<{ status: number; body: Deployment & { title: string } }> {
  await t.call('POST', `${site}/drafts`, { rules: [{ addon: 'pass-it-on', effect: 'skip', place }] })
  return t.call('POST', `${site}/rules/put-live`, { readAgain: 'none', unrehearsed: 'a test', inParts: true })
}

/** As if a worker had played the guards. */
async function played(netId: number, guards: GuardResult[]): Promise<string[]> {
  const views = await RehearsalPageRow.findAll({ where: { rehearsalId: netId } })
  await RehearsalPageRow.update({ state: 'done', guards }, { where: { rehearsalId: netId } })
  await RehearsalRow.update({ state: 'done', finishedAt: new Date() }, { where: { id: netId } })
  const pages = await PageRow.findAll({ where: { id: views.map(({ pageId }) => pageId) } })
  return pages.map(({ path }) => path)
}

const missed: GuardResult = { guard: 'fields', outcome: 'fails', gone: ['field: name'], came: [] }
/** A page with the add-on that does not go first. */
async function another(first: string[]): Promise<string> {
  const pages = await PageRow.findAll({ where: { area: 'public', signedIn: false }, order: ['position'] })
  for (const { path } of pages) if (!first.includes(path) && (await has(path))) return path
  throw new Error('All of them go first.')
}

it('goes to the rest where all guards hold on the first pages, and only then are its drafts none any more', async () => {
  const { status, body } = await begin()
  expect([status, body.title]).toEqual([200, undefined])
  expect(body).toMatchObject({ parts: { at: 'first', firstPages: expect.any(Number) } })
  await go(body.id)
  const waiting = await deployment(body.id)
  expect(waiting).toMatchObject({ state: 'live', finishedAt: null, parts: { at: 'first' } })
  const first = await RehearsalPageRow.findAll({ where: { rehearsalId: waiting.netId! } })
  const pages = await PageRow.findAll({ where: { id: first.map(({ pageId }) => pageId) } })
  expect(new Set(pages.map(({ kind }) => kind)).size).toBe(pages.length)
  const other = await another(pages.map(({ path }) => path))
  for (const { path } of pages) expect([path, await has(path)]).toEqual([path, false])
  expect([other, await has(other)]).toEqual([other, true])
  expect(await drafted()).toBe(1)

  await played(waiting.netId!, [])
  await go(body.id)
  const done = await deployment(body.id)
  expect(done).toMatchObject({ state: 'live', failure: null, parts: { at: 'rest' }, finishedAt: expect.any(String) })
  expect(done.toVersion).toBe(waiting.toVersion! + 1)
  expect(await has(other)).toBe(false)
  expect(await drafted()).toBe(0)
  const versions = (await t.call('GET', `${site}/rules`)).body.versions
  expect(versions[1].what).toMatch(/: first on \d+ pages$/)
  const back = await t.call('POST', `${site}/rules/take-back/0`)
  await go(back.body.id)
  expect(await has(other)).toBe(true)
  const [proof] = (await t.call('GET', `${site}/sweeps`)).body
  await t.call('POST', `/sweeps/${proof.id}/cancel`)
})

it('leaves nothing where a guard fails there, and the rest has never seen it', async () => {
  const before = await html('/about')
  const { body } = await begin()
  await go(body.id)
  const { netId } = await deployment(body.id)
  const other = await another(await played(netId!, [missed]))
  expect(await has(other)).toBe(true)
  await go(body.id)
  const ended = await deployment(body.id)
  expect(ended).toMatchObject({ state: 'taken-back', parts: { at: 'first' } })
  expect(ended.failure).toMatch(/guards fail on/)
  expect(await html('/about')).toBe(before)
  expect(await drafted()).toBe(1)
  await t.call('DELETE', `${site}/drafts`)
})

it('goes back where its guards were not played to their end: nobody has seen that it holds', async () => {
  const { body } = await begin()
  await go(body.id)
  const { netId } = await deployment(body.id)
  expect((await t.call('POST', `/rehearsals/${netId}/stop`)).status).toBe(200)
  await go(body.id)
  expect(await deployment(body.id)).toMatchObject({ state: 'taken-back', failure: expect.stringMatching(/not played/) })
  await t.call('DELETE', `${site}/drafts`)
})

it.each([1, 2, 3, 4])(
  'killed after %i steps once the first part holds, it goes on to the rest, once',
  async (steps) => {
    const { body } = await begin()
    await go(body.id)
    const { netId, toVersion } = await deployment(body.id)
    const other = await another(await played(netId!, []))
    let left = steps
    const killed = {
      ...aHold,
      progressed: async () => {
        if (--left === 0) throw new Error('killed')
      },
    }
    await expect(runDeployment(tools, { id: body.id }, killed)).rejects.toThrow('killed')
    await go(body.id)
    const done = await deployment(body.id)
    expect(done).toMatchObject({ state: 'live', failure: null, toVersion: toVersion! + 1, parts: { at: 'rest' } })
    expect(done.steps.filter(({ said }) => said === 'So it goes on to the rest.')).toHaveLength(1)
    expect(await has(other)).toBe(false)
    const back = await t.call('POST', `${site}/rules/take-back/0`)
    await go(back.body.id)
    const [proof] = (await t.call('GET', `${site}/sweeps`)).body
    await t.call('POST', `/sweeps/${proof.id}/cancel`)
  },
)

it('put off, it goes in parts when its hour has come', async () => {
  await t.call('POST', `${site}/drafts`, { rules: [{ addon: 'pass-it-on', effect: 'skip', place: PUBLIC }] })
  const asked = {
    dueAt: new Date(Date.now() + 60_000).toISOString(),
    readAgain: 'none',
    unrehearsed: 'a test',
    inParts: true,
  }
  const { status, body } = await t.call('POST', `${site}/rules/put-off`, asked)
  expect([status, body.title]).toEqual([expect.any(Number), undefined])
  await t.app.get(PutOffService).begin(body.id)
  const [begun] = (await t.call('GET', `${site}/deployments`)).body
  expect(begun).toMatchObject({ kind: 'drafts', parts: { at: 'first' } })
  await go(begun.id)
  expect((await t.call('POST', `/rehearsals/${(await deployment(begun.id)).netId}/stop`)).status).toBe(200)
  await go(begun.id)
  expect(await deployment(begun.id)).toMatchObject({ state: 'taken-back' })
  await t.call('DELETE', `${site}/drafts`)
})

it('somebody else who changes the rules between the parts stops it, and it says that the first is live', async () => {
  const { body } = await begin()
  await go(body.id)
  const { netId, toVersion } = await deployment(body.id)
  const rules = [{ id: 'theirs', addon: 'moon-phase', effect: 'skip', place: { level: 'page', path: '/about' } }]
  const put = await askSite(t.standin.address, '/unvelt/v1/rules', {
    method: 'PUT',
    headers: { authorization: `Bearer ${KEY}`, 'if-match': `"${toVersion}"` },
    body: { format: 'unvelt-rules/1', rules },
  })
  expect(put.status).toBe(200)
  await played(netId!, [])
  await go(body.id)
  const ended = await deployment(body.id)
  expect(ended).toMatchObject({ state: 'failed' })
  expect(ended.failure).toMatch(/What went live first is live; nothing else was written/)
})

it('is refused with its reason where there is nothing to learn from a first part', async () => {
  await t.call('DELETE', `${site}/drafts`)
  const one = await begin({ level: 'page', path: '/about' })
  expect([one.status, one.body.title]).toEqual([422, expect.stringMatching(/one page only/)])
  const row = await SiteRow.findByPk(Number(site.split('/').at(-1)))
  const { connector } = row!
  await row!.update({ connector: { ...connector!, measuring: { ...connector!.measuring!, olderRules: false } } })
  const blind = await begin()
  expect([blind.status, blind.body.title]).toEqual([422, expect.stringMatching(/no page under its rules before/)])
  expect(await drafted()).toBeGreaterThan(0)
})
