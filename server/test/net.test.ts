import { Sequelize } from 'sequelize'
import type { GuardResult } from '@unvelt/core'
import type { Deployment } from '@unvelt/contract'
import { askSite } from '../../testing/ask-site.js'
import { CONFIG } from '../src/config/config.module.js'
import type { Config } from '../src/config/config.js'
import { CulpritSearchRow } from '../src/culprit/culprit.model.js'
import { QUEUE } from '../src/queue/queue.module.js'
import { RehearsalPageRow, RehearsalRow } from '../src/rehearsal/rehearsal.model.js'
import { Deployer } from '../src/rule/deployment/deployer.js'
import { pagesToPlay } from '../src/rule/deployment/net.js'
import type { DeploymentTools } from '../src/rule/deployment/deployment-case.js'
import { openDeployments, runDeployment } from '../src/rule/deployment/run-deployment.js'
import { SiteRow } from '../src/site/site.model.js'
import { appForTest, KEY } from './app-for-test.js'
import { aHold } from './worker-tools.js'

/** What comes of guards that are played once a change is live; how they are played is told of rehearsals. */
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
  expect((await t.call('PATCH', site, { net: 'take-back' })).body.net).toBe('take-back')
})
afterAll(() => t?.stop())

const onAbout = { level: 'page', path: '/about' }
const deployment = async (id: number): Promise<Deployment> => (await t.call('GET', `/deployments/${id}`)).body
const go = (id: number) => runDeployment(tools, { id }, aHold)

async function putLive(addons: string[], more: object = {}): Promise<Deployment> {
  await t.call('POST', `${site}/drafts`, { rules: addons.map((addon) => ({ addon, effect: 'skip', place: onAbout })) })
  const asked = { readAgain: 'none', unrehearsed: 'a test', ...more }
  const { status, body } = await t.call('POST', `${site}/rules/put-live`, asked)
  expect([status, body.title]).toEqual([200, undefined])
  await go(body.id)
  return deployment(body.id)
}

/** As if a worker had played the guards. */
async function played(netId: number, guards: GuardResult[]): Promise<void> {
  await RehearsalPageRow.update({ state: 'done', guards }, { where: { rehearsalId: netId } })
  await RehearsalRow.update({ state: 'done', finishedAt: new Date() }, { where: { id: netId } })
}

const missed: GuardResult = { guard: 'fields', outcome: 'fails', gone: ['field: name'], came: [] }
const atSite = async () => (await t.call('GET', `${site}/rules/at-site`)).body
const html = async () => (await askSite(t.standin.address, '/about')).text

it('waits for its guards, is left to nobody meanwhile, and stays where they hold', async () => {
  const waiting = await putLive(['enquiry-form'])
  expect(waiting).toMatchObject({ state: 'live', finishedAt: null, net: 'take-back', netId: expect.any(Number) })
  expect(await openDeployments(tools.sequelize)).toEqual([])
  const net = (await t.call('GET', `/rehearsals/${waiting.netId}`)).body
  expect(net).toMatchObject({ mechanism: 'live', deploymentId: waiting.id, state: 'running' })
  expect(net.each.map(({ path }: { path: string }) => path)).toContain('/about')
  await go(waiting.id)
  expect((await deployment(waiting.id)).finishedAt).toBeNull()

  await played(waiting.netId!, [{ guard: 'fields', outcome: 'holds', gone: [], came: [] }])
  expect(await openDeployments(tools.sequelize)).toEqual([{ data: { id: waiting.id } }])
  await go(waiting.id)
  const done = await deployment(waiting.id)
  expect(done).toMatchObject({ state: 'live', finishedAt: expect.any(String), failure: null })
  expect(done.steps.at(-1)!.said).toMatch(/all guards hold/)
})

it('is taken back where a guard fails, answers as before, and its drafts are drafts again while it is looked for who did it', async () => {
  const before = await html()
  const waiting = await putLive(['pass-it-on', 'ribbon-share'])
  expect(await html()).not.toBe(before)
  await played(waiting.netId!, [missed])
  await go(waiting.id)
  const back = await deployment(waiting.id)
  expect(back).toMatchObject({ state: 'taken-back', failure: expect.stringMatching(/form fields: field: name/) })
  expect(await html()).toBe(before)
  expect(await atSite()).toMatchObject({ onlyAtSite: [], onlyOurs: [] })
  const { body: drafts } = await t.call('GET', `${site}/drafts`)
  expect(drafts.rules.map(({ addon }: { addon: string }) => addon).sort()).toEqual(['pass-it-on', 'ribbon-share'])
  expect(await CulpritSearchRow.count({ where: { rehearsalId: waiting.netId! } })).toBe(1)
  // Taking it back is not tried, and not looked after, a second time.
  await go(waiting.id)
  expect((await deployment(waiting.id)).steps).toHaveLength(back.steps.length)
  await t.call('DELETE', `${site}/drafts`)
})

it('where only telling is wanted it stays, and what fails is told', async () => {
  const waiting = await putLive(['pass-it-on'], { net: 'tell' })
  await played(waiting.netId!, [missed])
  await go(waiting.id)
  const done = await deployment(waiting.id)
  expect(done).toMatchObject({ state: 'live', failure: null })
  expect(done.steps.at(-1)!.said).toMatch(/guards fail on \/about/)
  expect((await t.call('GET', `${site}/drafts`)).body.rules).toEqual([])
})

it('goes on where the guards are not played to their end, and where somebody leaves it live', async () => {
  const waiting = await putLive(['walk-almanac'])
  expect((await t.call('POST', `/rehearsals/${waiting.netId}/stop`)).status).toBe(200)
  await go(waiting.id)
  const done = await deployment(waiting.id)
  expect(done).toMatchObject({ state: 'live', finishedAt: expect.any(String) })
  expect(done.steps.at(-1)!.said).toMatch(/not played to their end/)
})

it('a rehearsal of what was live before ends with it, and what its guards say is no rehearsal of drafts', async () => {
  await t.call('POST', `${site}/drafts`, { rules: [{ addon: 'canopy-slider', effect: 'skip', place: onAbout }] })
  const { body: rehearsal } = await t.call('POST', `${site}/rehearsals`, {})
  const { body: begun } = await t.call('POST', `${site}/rules/put-live`, { readAgain: 'none', unrehearsed: 'a test' })
  await go(begun.id)
  const { netId } = await deployment(begun.id)
  expect((await t.call('GET', `/rehearsals/${rehearsal.id}`)).body.state).toBe('stopped')
  await played(netId!, [])
  await go(begun.id)
  await t.call('POST', `${site}/drafts`, { rules: [{ addon: 'canopy-slider', effect: 'keep', place: onAbout }] })
  expect((await t.call('POST', `${site}/rules/put-live`, {})).status).toBe(428)
})

it('plays one page of each kind, where what changes is in use before the most visited', () => {
  const page = (id: number, kind: string, views: number) => ({ id, kind, views, importedViews: null })
  const touched = [page(1, 'article', 90), page(2, 'article', 10), page(3, 'event', 5), page(4, 'event', 50)]
  expect(pagesToPlay(touched, new Set([2]), null).map(({ id }) => id)).toEqual([4, 2])
  expect(pagesToPlay(touched, new Set(), new Set(['2 1', '3 1'])).map(({ id }) => id)).toEqual([2, 3])
})

it('is not played where the site can’t make a page under its rules before: both sides would be the same', async () => {
  const [row] = await SiteRow.findAll()
  const { connector } = row!
  await row!.update({ connector: { ...connector!, measuring: { ...connector!.measuring!, olderRules: false } } })
  try {
    const done = await putLive(['field-map'])
    expect(done).toMatchObject({ state: 'live', netId: null, finishedAt: expect.any(String) })
    expect(done.steps.at(-1)!.said).toMatch(/no guard is played/)
  } finally {
    await row!.update({ connector })
  }
})

it('is seen through the lenses that a change is about, and not played where it touches no page', async () => {
  await t.call('POST', `${site}/drafts`, {
    rules: [{ addon: 'river-level', effect: 'skip', place: onAbout, condition: { device: 'handset' } }],
  })
  const { body: begun } = await t.call('POST', `${site}/rules/put-live`, { readAgain: 'none', unrehearsed: 'a test' })
  await go(begun.id)
  const { netId } = await deployment(begun.id)
  const lenses = (await t.call('GET', `${site}/lenses`)).body as { id: number; device: { phone: boolean } }[]
  const { each } = (await t.call('GET', `/rehearsals/${netId}`)).body as { each: { lensId: number }[] }
  expect(each.map(({ lensId }) => lenses.find(({ id }) => id === lensId)!.device.phone)).toEqual([true])
  await played(netId!, [])
  await go(begun.id)

  await t.call('POST', `${site}/drafts`, {
    rules: [{ addon: 'link-warden', effect: 'skip', place: { level: 'area', area: 'office' } }],
  })
  const { body: office } = await t.call('POST', `${site}/rules/put-live`, { readAgain: 'none', unrehearsed: 'a test' })
  await go(office.id)
  const unseen = await deployment(office.id)
  expect(unseen).toMatchObject({ state: 'live', netId: null, finishedAt: expect.any(String) })
  expect(unseen.steps.at(-1)!.said).toMatch(/touches no page/)
})
