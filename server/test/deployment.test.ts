import { Sequelize } from 'sequelize'
import type { Deployment, DeploymentState, LiveRules } from '@unvelt/contract'
import { siteProxy } from '../../testing/site-proxy.js'
import { CONFIG } from '../src/config/config.module.js'
import type { Config } from '../src/config/config.js'
import type { Hold } from '../src/queue/job.js'
import { QUEUE } from '../src/queue/queue.module.js'
import { Deployer } from '../src/rule/deployment/deployer.js'
import { DeploymentRow } from '../src/rule/deployment/deployment.model.js'
import type { DeploymentTools } from '../src/rule/deployment/deployment-case.js'
import { runDeployment } from '../src/rule/deployment/run-deployment.js'
import { SiteRow } from '../src/site/site.model.js'
import { appForTest, KEY } from './app-for-test.js'
import { aHold } from './worker-tools.js'

/** Changes of rules that somebody is killed in the middle of, at every step, by hand instead of by the server's own job. */
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
})
afterAll(() => t?.stop())

const onAbout = { level: 'page', path: '/about' }
let turn = 0
/** Begins a change that differs from the one before. */
async function begin(): Promise<number> {
  const effect = ++turn % 2 ? 'skip' : 'leave-out'
  await t.call('POST', `${site}/drafts`, { rules: [{ addon: 'enquiry-form', effect, place: onAbout }] })
  const { status, body } = await t.call('POST', `${site}/rules/put-live`, { readAgain: 'none', unrehearsed: 'a test' })
  expect([status, body.title ?? body.state]).toEqual([200, 'begun'])
  return body.id
}
const deployment = async (id: number): Promise<Deployment> => (await t.call('GET', `/deployments/${id}`)).body
const live = async (): Promise<LiveRules> => (await t.call('GET', `${site}/rules`)).body
/** What Unvelt says is live is what the site has. */
async function agree(): Promise<void> {
  const { body } = await t.call('GET', `${site}/rules/at-site`)
  expect(body).toMatchObject({ onlyAtSite: [], onlyOurs: [] })
  expect(body.siteVersion).toBe(body.ourVersion)
}

class Killed extends Error {}
/** A process that is killed before its nth writing. */
function killedAt(n: number): Hold {
  let left = n
  return {
    ...aHold,
    check() {
      if (left-- === 0) throw new Killed()
    },
  }
}

it('killed before any of its writings, it goes on where it was, and site and Unvelt agree on what is live', async () => {
  const states = new Set<DeploymentState>()
  for (let n = 0, killed = true; killed; n++) {
    const id = await begin()
    const before = (await live()).version
    killed = await runDeployment(tools, { id }, killedAt(n)).then(
      () => false,
      (error: unknown) => {
        expect(error).toBeInstanceOf(Killed)
        return true
      },
    )
    states.add((await deployment(id)).state)
    await runDeployment(tools, { id }, aHold)
    expect(await deployment(id)).toMatchObject({ state: 'live', toVersion: before + 1, failure: null })
    await agree()
    expect((await t.call('GET', `${site}/drafts`)).body.rules).toEqual([])
  }
  expect([...states]).toEqual(expect.arrayContaining(['begun', 'sending', 'sent', 'purged', 'checked', 'live']))
}, 600_000)

it('killed between the site’s taking the rules and writing that down, it does not send them twice', async () => {
  const id = await begin()
  const row = (await DeploymentRow.findByPk(id))!
  const { version } = await live()
  // The site has them; nobody has heard its answer.
  await row.update({ state: 'sending' })
  const put = await siteCall('PUT', row.toRules, version)
  expect(put).toBe(version + 1)
  await runDeployment(tools, { id }, aHold)
  expect(await deployment(id)).toMatchObject({ state: 'live', toVersion: version + 1 })
  await agree()
})

it('where somebody else was first, nothing is written, and which of the two holds is settled by one press', async () => {
  const id = await begin()
  const { version } = await live()
  await siteCall('PUT', [], version)
  await runDeployment(tools, { id }, aHold)
  expect(await deployment(id)).toMatchObject({
    state: 'failed',
    toVersion: null,
    failure: expect.stringContaining('Nothing was written'),
  })
  // The draft is still there, and can't go live before it is settled.
  const refused = await t.call('POST', `${site}/rules/put-live`, { unrehearsed: 'a test' })
  expect([refused.status, refused.body.title]).toEqual([409, expect.stringContaining('compared')])
  expect((await t.call('POST', `${site}/rules/adopt`, { siteVersion: version })).status).toBe(409)
  const adopted = await t.call('POST', `${site}/rules/adopt`, { siteVersion: version + 1 })
  expect(adopted.body).toMatchObject({ kind: 'adopt', state: 'live', toVersion: version + 1 })
  await agree()
  await t.call('DELETE', `${site}/drafts`)
})

/** The site behind a proxy of ours, for the time of a test. */
async function behind(proxy: { address: string }, run: () => Promise<void>): Promise<void> {
  const row = (await SiteRow.findByPk(Number(site.split('/')[2])))!
  const { address } = row
  await row.update({ address: proxy.address })
  await run().finally(() => row.update({ address }))
}

it('a site that goes away in the middle is waited for', async () => {
  const id = await begin()
  const proxy = await siteProxy(t.standin.address)
  await behind(proxy, async () => {
    await runDeployment(tools, { id }, killedAt(5)).catch(() => {})
    expect((await deployment(id)).state).toBe('sent')
    await proxy.stop()
    const going = runDeployment(tools, { id }, aHold)
    for (;;) {
      const { steps } = await deployment(id)
      if (steps.some(({ said }) => said.includes('Asking again'))) break
      await new Promise((resolve) => setTimeout(resolve, 100))
    }
    const again = await siteProxy(t.standin.address, { port: Number(new URL(proxy.address).port) })
    await going
    await again.stop()
  })
  expect((await deployment(id)).state).toBe('live')
  await agree()
})

it('a page that stays old behind a proxy takes the change back, and it is told why', async () => {
  const id = await begin()
  const before = await live()
  const proxy = await siteProxy(t.standin.address, { stale: before.version })
  await behind(proxy, () => runDeployment(tools, { id }, aHold)).finally(() => proxy.stop())
  const ended = await deployment(id)
  expect(ended).toMatchObject({ state: 'taken-back', failure: expect.stringContaining('old copies of /about') })
  expect(ended.steps.at(-1)!.said).toContain('put back')
  const after = await live()
  expect(after.versions[0]!.rules).toEqual(before.versions[0]!.rules)
  await agree()
  expect((await t.call('GET', `${site}/drafts`)).body.rules).toHaveLength(1)
  await t.call('DELETE', `${site}/drafts`)
})

it('one change at a time', async () => {
  const id = await begin()
  await t.call('POST', `${site}/drafts`, { rules: [{ addon: 'pass-it-on', effect: 'skip', place: onAbout }] })
  const second = await t.call('POST', `${site}/rules/put-live`, { unrehearsed: 'a test' })
  expect([second.status, second.body.title]).toEqual([409, expect.stringContaining('under way')])
  await runDeployment(tools, { id }, aHold)
  // What was drafted meanwhile is a draft still.
  expect((await t.call('GET', `${site}/drafts`)).body.rules).toMatchObject([{ addon: 'pass-it-on' }])
})

async function siteCall(method: string, rules: object[], version: number): Promise<number> {
  const { siteFetch } = await import('../src/site-http/site-fetch.js')
  const response = await siteFetch(`${t.standin.address}/unvelt/v1/rules`, {
    reach: 'anywhere',
    method,
    headers: { authorization: `Bearer ${KEY}`, 'if-match': `"${version}"`, 'content-type': 'application/json' },
    body: JSON.stringify({ format: 'unvelt-rules/1', rules }),
  })
  return ((await response.json()) as { version: number }).version
}
