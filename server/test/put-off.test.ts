import { Sequelize } from 'sequelize'
import { askSite } from '../../testing/ask-site.js'
import { DeploymentRow } from '../src/rule/deployment/deployment.model.js'
import { DeploymentService } from '../src/rule/deployment/deployment.service.js'
import { PutOffRow } from '../src/rule/deployment/put-off.model.js'
import { PutOffService } from '../src/rule/deployment/put-off.service.js'
import { SiteRow } from '../src/site/site.model.js'
import { appForTest, KEY } from './app-for-test.js'

/** Hours in which nothing goes live, and drafts that wait for theirs. */
let t: Awaited<ReturnType<typeof appForTest>>
let site: string
let service: PutOffService

beforeAll(async () => {
  t = await appForTest()
  service = t.app.get(PutOffService)
  const { body } = await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })
  site = `/sites/${body.id}`
})
afterAll(() => t?.stop())
afterEach(async () => {
  await PutOffRow.update({ state: 'withdrawn' }, { where: { state: 'waiting' } })
  await t.call('DELETE', `${site}/drafts`)
  await t.call('PATCH', site, { quiet: { zone: 'UTC', times: [] } })
})

const HOUR = 3_600_000
const inAnHour = () => new Date(Date.now() + HOUR).toISOString()
const onAbout = { level: 'page', path: '/about' }
const draft = (addon: string) =>
  t.call('POST', `${site}/drafts`, { rules: [{ addon, effect: 'skip', place: onAbout }] })
const putOff = (more: object = {}) =>
  t.call('POST', `${site}/rules/put-off`, { dueAt: inAnHour(), readAgain: 'none', unrehearsed: 'a test', ...more })
const newest = async () => (await t.call('GET', `${site}/put-times`)).body.putOff[0]
/** As if its hour had come. */
const becomesDue = (id: number) => PutOffRow.update({ dueAt: new Date(Date.now() - 1000) }, { where: { id } })
async function ended(): Promise<{ state: string; why: string | null; deploymentId: number | null }> {
  for (;;) {
    const now = await newest()
    if (now.state !== 'waiting') return now
    await new Promise((resolve) => setTimeout(resolve, 100))
  }
}
async function live(id: number): Promise<string> {
  for (;;) {
    const { body } = await t.call('GET', `/deployments/${id}`)
    if (body.finishedAt !== null) return body.state
    await new Promise((resolve) => setTimeout(resolve, 100))
  }
}
const always = (days: number[], from = 0, until = 1440) => ({ zone: 'UTC', times: [{ days, from, until }] })
/** The quiet hours of today alone, so that tomorrow is open. */
const quietToday = () => always([((new Date().getUTCDay() + 6) % 7) + 1])

it('drafts that are put off stay drafts, and go live at their hour by themselves', async () => {
  await draft('ribbon-share')
  const { status, body } = await putOff()
  expect([status, body.state]).toEqual([200, 'waiting'])
  expect(body.what).toContain('Ribbon Share')
  expect(await service.due()).toEqual([])
  expect((await putOff()).status).toBe(409)
  expect((await t.call('GET', `${site}/drafts`)).body.rules).toHaveLength(1)
  await becomesDue(body.id)
  const done = await ended()
  expect(done).toMatchObject({ state: 'begun', why: null })
  expect(await live(done.deploymentId!)).toBe('live')
  expect((await t.call('GET', `${site}/drafts`)).body.rules).toEqual([])
  expect((await askSite(t.standin.address, '/about')).text).not.toContain('ribbon-share.js"')
})

it('several that find it due begin it once', async () => {
  await draft('moon-phase')
  const { body } = await putOff()
  await becomesDue(body.id)
  await Promise.all([1, 2, 3].map(() => service.begin(body.id)))
  const { state, deploymentId } = await ended()
  expect(state).toBe('begun')
  await live(deploymentId!)
  await service.begin(body.id)
  expect(await DeploymentRow.count({ where: { options: { putOff: body.id } } })).toBe(1)
})

it('what is withdrawn while it begins does not go live, and nothing is left under way', async () => {
  await draft('moon-phase')
  const { body } = await putOff()
  const site = (await SiteRow.findOne())!
  await t.call('DELETE', `/put-offs/${body.id}`)
  const asked = { readAgain: 'none' as const, unrehearsed: 'a test', evenNow: true }
  await expect(t.app.get(DeploymentService).putDrafts(site, asked, body.id)).rejects.toThrow('withdrawn meanwhile')
  expect(await DeploymentRow.count({ where: { finishedAt: null } })).toBe(0)
})

it('nothing goes live where the drafts are others by then, and it is told', async () => {
  await draft('snowfall')
  const { body } = await putOff()
  await draft('ticker')
  await becomesDue(body.id)
  expect(await ended()).toMatchObject({ state: 'refused', why: expect.stringContaining('changed since') })
  expect((await t.call('GET', `${site}/drafts`)).body.rules).toHaveLength(2)
  // Somebody has seen it.
  expect((await t.call('DELETE', `/put-offs/${body.id}`)).body).toMatchObject({ state: 'withdrawn' })
})

it('what would be refused by hand is refused at its hour, in the same words', async () => {
  const rule = (pattern: string, effect: object) => ({ addon: 'ticker', place: { level: 'path', pattern }, ...effect })
  await t.call('POST', `${site}/drafts`, {
    rules: [rule('/abo*', { effect: 'skip' }), rule('/ab*', { effect: 'hold', until: 'idle' })],
  })
  const { body } = await putOff()
  await becomesDue(body.id)
  expect(await ended()).toMatchObject({
    state: 'refused',
    why: expect.stringMatching(/^On \/about two rules say different things .* Nothing was written\.$/),
  })
})

it('a sweep is waited for', async () => {
  await draft('snowfall')
  const { body } = await putOff()
  await t.call('POST', `${site}/sweeps`, {})
  await becomesDue(body.id)
  await service.begin(body.id)
  expect((await newest()).state).toBe('waiting')
  await t.app.get(Sequelize).query(`update sweep set status = 'cancelled' where status = 'running'`)
  await service.begin(body.id, new Date(Date.now() + 1))
  const { state, deploymentId } = await ended()
  expect(state).toBe('begun')
  await live(deploymentId!)
})

it('in quiet hours nothing goes live by hand or by itself, unless somebody insists; taking back always may', async () => {
  await draft('ticker')
  expect((await t.call('PATCH', site, { quiet: quietToday() })).body.quiet).toEqual(quietToday())
  const refused = await t.call('POST', `${site}/rules/put-live`, { readAgain: 'none', unrehearsed: 'a test' })
  expect(refused.status).toBe(423)
  expect(refused.body.title).toMatch(
    /^Nothing goes live on \w+days from 00:00 to 24:00 \(UTC\)\. Nothing was put live\.$/,
  )
  const { opensAt } = (await t.call('GET', `${site}/put-times`)).body
  expect(opensAt).toMatch(/T00:00:00\.000Z$/)
  expect((await putOff({ dueAt: new Date(Date.now() + 5000).toISOString() })).status).toBe(423)
  const { body } = await putOff({ dueAt: opensAt })
  expect(body).toMatchObject({ state: 'waiting', dueAt: opensAt })
  // Its hour has been made a quiet one since: it waits on.
  await becomesDue(body.id)
  await service.begin(body.id)
  expect(await newest()).toMatchObject({ state: 'waiting', dueAt: opensAt })

  const asked = { readAgain: 'none', unrehearsed: 'a test', evenNow: true }
  const { status, body: begun } = await t.call('POST', `${site}/rules/put-live`, asked)
  expect([status, begun.title]).toEqual([200, undefined])
  expect(await live(begun.id)).toBe('live')
  expect(await newest()).toMatchObject({ state: 'withdrawn', why: 'Put live by hand before.' })
  const back = await t.call('POST', `${site}/rules/take-back/${begun.fromVersion}`)
  expect(await live(back.body.id)).toBe('live')
})

it('withdrawn, it does not go live', async () => {
  await draft('ticker')
  const { body } = await putOff()
  expect((await t.call('DELETE', `/put-offs/${body.id}`)).body.state).toBe('withdrawn')
  expect((await t.call('DELETE', `/put-offs/${body.id}`)).status).toBe(409)
  await becomesDue(body.id)
  expect(await service.due()).toEqual([])
})

it.each([
  ['no zone that there is', { zone: 'Arboretum/Beech', times: [] }],
  ['a day that is none', always([8])],
  ['no day', always([])],
  ['a time that ends before it begins', always([5], 720, 60)],
  ['no hour left in the week', always([1, 2, 3, 4, 5, 6, 7])],
])('quiet hours are refused with %s', async (_, quiet) => {
  expect((await t.call('PATCH', site, { quiet })).status).toBe(422)
})

it.each([
  ['a time that is over', '2020-01-01T00:00:00Z'],
  ['a time in a year', new Date(Date.now() + 365 * 24 * HOUR).toISOString()],
  ['no time', 'soon'],
])('putting off is refused with %s', async (_, dueAt) => {
  await draft('ticker')
  expect((await putOff({ dueAt })).status).toBe(422)
  expect((await putOff({ unrehearsed: undefined })).status).toBe(428)
})
