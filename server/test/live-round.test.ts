import 'reflect-metadata'
import type { Browser } from 'playwright-core'
import type { Sequelize } from 'sequelize'
import { askSite } from '../../testing/ask-site.js'
import type { RehearsalSheet } from '@unvelt/contract'
import { launchBrowser } from '../src/browser/browser.js'
import { connect } from '../src/database/connect.js'
import { endComparing } from '../src/picture/compare-pictures.js'
import { lensesOfRound, pagesOfRound } from '../src/rehearsal/live-round-plan.js'
import { runRehearsal } from '../src/rehearsal/run-rehearsal.js'
import { aHold, workerTools } from './worker-tools.js'
import { appForTest, KEY } from './app-for-test.js'

/** Guards that are played on the live site as it is, with no draft: the stand-in, whose enquiry form goes and comes back. */
let t: Awaited<ReturnType<typeof appForTest>>
let db: Sequelize
let browser: Browser
let site: string
let contact: number
const SEE_THE_FORM = { name: 'see the form', kind: null, actions: [{ do: 'expect', at: 'form[action*=enquiry]' }] }

beforeAll(async () => {
  browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
  t = await appForTest()
  db = await connect(t.databaseUrl)
  const { body } = await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })
  site = `/sites/${body.id}`
  const { body: pages } = await t.call('GET', `${site}/pages`)
  contact = pages.find(({ path }: { path: string }) => path === '/contact').id
  expect((await t.call('PUT', `${site}/steps`, { steps: [SEE_THE_FORM] })).status).toBe(200)
  const { body: lenses } = await t.call('GET', `${site}/lenses`)
  // One view is enough here, and its lens is a desk.
  for (const { id, device } of lenses) if (device.phone) await t.call('DELETE', `${site}/lenses/${id}`)
})
afterAll(async () => {
  await endComparing()
  await browser?.close()
  await db?.close()
  await t?.stop()
})

async function play(): Promise<RehearsalSheet> {
  const { body, status } = await t.call('POST', `${site}/rounds`, { pageIds: [contact] })
  expect([status, body.title]).toEqual([201, undefined])
  await runRehearsal(workerTools(db, { browser }), { id: body.id }, aHold)
  return (await t.call('GET', `/rehearsals/${body.id}`)).body
}
const failing = (sheet: RehearsalSheet) =>
  sheet.each[0]!.guards.filter(({ outcome }) => outcome === 'fails').map(({ guard }) => guard)
const switchForm = (active: boolean) =>
  askSite(t.standin.address, '/unvelt/v1/add-ons/enquiry-form/active', {
    method: 'PUT',
    headers: { authorization: `Bearer ${KEY}` },
    body: { active },
  })

it('a first round finds what is wrong by itself, later ones what is other than it was', async () => {
  const first = await play()
  expect(first).toMatchObject({ state: 'done', failing: 0, round: { against: null, sound: true } })
  expect(first.each[0]!.guards.find(({ guard }) => guard === 'links').outcome).toBe('unknown')

  const second = await play()
  expect(second).toMatchObject({ failing: 0, round: { against: first.id, sound: true } })
  expect(second.each[0]!.guards.map(({ outcome }) => outcome)).not.toContain('unknown')
  const figures = second.each[0]!.measured.requests
  expect(figures.after).toBe(figures.before)

  await switchForm(false)
  const broken = await play()
  expect(broken).toMatchObject({ round: { against: second.id, sound: false } })
  expect(failing(broken)).toEqual(expect.arrayContaining(['picture', 'fields', 'steps']))
  // The step that failed has its picture, and nobody else's is given out for it.
  expect(broken.each[0]!.failedSteps).toEqual(['see the form'])
  const at = `${await t.app.getUrl()}/api/rehearsals/${broken.id}/pictures/${contact}/${broken.each[0]!.lensId}`
  const pictures = ['failed-step?step=see%20the%20form', 'failed-step?step=another', 'without', 'with']
  const answers = await Promise.all(pictures.map(async (picture) => (await fetch(`${at}/${picture}`)).status))
  expect(answers).toEqual([200, 404, 200, 200])

  // What was broken is nothing to hold the next one against.
  await switchForm(true)
  expect(await play()).toMatchObject({ failing: 0, round: { against: second.id, sound: true } })
})

it('what somebody says is as it should be, or accepts, is what later rounds are held against', async () => {
  await switchForm(false)
  const broken = await play()
  expect(broken.round).toMatchObject({ sound: false })
  const { status, body } = await t.call('POST', `/rehearsals/${broken.id}/sound`)
  expect([status, body.round]).toEqual([200, { against: expect.any(Number), sound: true }])
  const after = await play()
  expect(after.round).toMatchObject({ against: broken.id })
  // It is so by now, and a step that failed before as well is told, and held against nobody.
  expect(failing(after)).toEqual([])
  expect(after.each[0]!.guards.find(({ guard }) => guard === 'steps').anyway).toEqual([
    expect.stringContaining('see the form'),
  ])

  await switchForm(true)
  const back = await play()
  const found = failing(back)
  for (const guard of found) {
    const accepted = { pageId: contact, lensId: back.each[0]!.lensId, guard, note: 'It is back.' }
    expect((await t.call('POST', `/rehearsals/${back.id}/accept`, accepted)).status).toBe(200)
  }
  expect((await t.call('GET', `/rehearsals/${back.id}`)).body).toMatchObject({ failing: 0, round: { sound: true } })
})

it('a round is no rehearsal of drafts, and refuses what can’t be', async () => {
  await t.call('POST', `${site}/drafts`, {
    rules: [{ addon: 'snowfall', effect: 'leave-out', place: { level: 'everywhere' } }],
  })
  await play()
  const put = await t.call('POST', `${site}/rules/put-live`, { readAgain: 'none' })
  expect(put.status).toBe(428)
  expect(put.body.title).toMatch(/have not been rehearsed/)
  expect((await t.call('POST', `${site}/rounds`, { pageIds: [999_999] })).status).toBe(404)
  expect((await t.call('POST', `/rehearsals/999999/sound`)).status).toBe(404)
  const { body: rehearsal } = await t.call('POST', `${site}/rehearsals`, { pageIds: [contact] })
  expect((await t.call('POST', `/rehearsals/${rehearsal.id}/sound`)).status).toBe(404)
  expect((await t.call('POST', `${site}/rounds`, {})).body.title).toMatch(/under way/)
  await t.call('POST', `/rehearsals/${rehearsal.id}/stop`)
})

it('of each kind a page that many see and one that few do is looked at, as its visitors see it', () => {
  const page = (id: number, kind: string, more: object = {}) => ({
    id,
    kind,
    area: 'public' as const,
    signedIn: false,
    views: id,
    ...more,
  })
  const pages = [
    ...Array.from({ length: 40 }, (_, n) => page(n, 'article')),
    page(50, 'form'),
    page(60, 'desk', { area: 'office' }),
  ]
  const chosen = pagesOfRound(pages, undefined, 7).map(({ id }) => id)
  expect(chosen).toHaveLength(3)
  expect(chosen).toEqual(expect.arrayContaining([39, 50]))
  expect(pagesOfRound(pages, [60, 3], 7).map(({ id }) => id)).toEqual([3, 60])
  const lens = (id: number, device: 'desk' | 'handset', visitor: 'signed-out' | 'signed-in', isCold = true) => ({
    id,
    visit: { device, visitor },
    isCold,
  })
  const lenses = [
    lens(1, 'desk', 'signed-out', false),
    lens(2, 'desk', 'signed-out'),
    lens(3, 'desk', 'signed-in'),
    lens(4, 'handset', 'signed-out'),
  ]
  expect(lensesOfRound({ signedIn: false }, lenses).map(({ id }) => id)).toEqual([2, 4])
  expect(lensesOfRound({ signedIn: true }, lenses).map(({ id }) => id)).toEqual([3])
})
