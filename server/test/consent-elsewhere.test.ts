import 'reflect-metadata'
import type { Browser, Page } from 'playwright-core'
import type { Sequelize } from 'sequelize'
import type { ConsentCost } from '@unvelt/contract'
import { plainSite, type PlainSite } from '../../testing/plain-site.js'
import { launchBrowser } from '../src/browser/browser.js'
import { findAnswers, findBanner } from '../src/browser/find-banner.js'
import { connect } from '../src/database/connect.js'
import { OnDemandRow } from '../src/on-demand/on-demand.model.js'
import { runReadOnDemand } from '../src/worker/read-on-demand.js'
import { appForTest } from './app-for-test.js'
import { aHold, workerTools } from './worker-tools.js'

/** Whoever asks for many sites does so in a frame of his own, and tells the page, which keeps the answer. */
const inFrame = (stranger: string) => `<iframe id="ask" title="Consent" src="${stranger}/ask.html"
    style="position:fixed;bottom:0;left:0;width:100%;height:160px"></iframe>
  <script>
    const take = (said) => {
      document.getElementById('ask').remove()
      if (said === 'yes') new Image().src = '/pictures/followed.png'
    }
    const kept = localStorage.getItem('said')
    if (kept) take(kept)
    addEventListener('message', ({ data }) => { localStorage.setItem('said', data.said); take(data.said) })
  </script>`
const ASK = `<!doctype html><title>Consent</title><p>This site would use cookies. May it?</p>
  <div><button>Learn what for</button><button id="yes">Accept all</button><button id="no">Reject all</button></div>
  <script>
    for (const said of ['yes', 'no']) document.getElementById(said).onclick = () => parent.postMessage({ said }, '*')
  </script>`
const IN_SHADOW = `<consent-ask></consent-ask>
  <script>
    const root = document.querySelector('consent-ask').attachShadow({ mode: 'open' })
    root.innerHTML = '<style>section { position: fixed; bottom: 0 }</style><section>We ask for your consent. <p><button>Agree</button></p></section>' +
      '<dialog>Which cookies? <button class="none">Only necessary ones</button></dialog>'
    const more = document.createElement('button')
    more.textContent = 'Settings'
    more.onclick = () => root.querySelector('dialog').show()
    root.querySelector('section').append(more)
  </script>`

let t: Awaited<ReturnType<typeof appForTest>>
let db: Sequelize
let browser: Browser
let plain: PlainSite
let page: Page
let stranger: string
beforeAll(async () => {
  browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
  t = await appForTest()
  db = await connect(t.databaseUrl)
  plain = await plainSite()
  stranger = plain.address.replace('plain.', 'stranger.')
  plain.replaced.set('/ask.html', ASK)
  page = await browser.newPage()
}, 300_000)
afterAll(async () => {
  await browser?.close()
  await db?.close()
  await t?.stop()
  await plain?.stop()
})
const withBanner = (banner: string) => {
  plain.gate = (html) => html.replace('<h1>', `${banner}<h1>`)
}

it('a banner in a frame of another company is found, and either answer is carried over', async () => {
  withBanner(inFrame(stranger))
  const made = await t.call('POST', '/sites', { address: plain.address, local: true, withoutConnector: true })
  const site = `/sites/${made.body.id}`
  expect((await t.call('POST', `${site}/consent`, { path: '/about' })).status).toBeLessThan(300)
  const row = (await OnDemandRow.findOne({ where: { siteId: made.body.id, kind: 'consent', state: 'waiting' } }))!
  const from = plain.asked.length
  await runReadOnDemand(workerTools(db, { browser }), { id: row.id }, aHold)
  const { banner, sides }: ConsentCost = (await t.call('GET', `${site}/consent`)).body
  expect(banner).toMatchObject({
    agree: { name: 'Accept all', selector: '#ask -> #yes' },
    refuse: { name: 'Reject all', selector: '#ask -> #no' },
  })
  expect(sides.map(({ side, failure }) => [side, failure])).toEqual([
    ['before', null],
    ['agreed', null],
    ['refused', null],
  ])
  // Pressed once in a browser that nobody measures, and followed once more in the reading that is.
  expect(plain.asked.slice(from).filter((path) => path.includes('followed'))).toHaveLength(2)
}, 300_000)

it('a banner in an open shadow tree is found, and what refuses behind more of it', async () => {
  withBanner(IN_SHADOW)
  await page.goto(`${plain.address}/about`)
  const banner = await findAnswers(page)
  expect(banner).toMatchObject({
    agree: { name: 'Agree' },
    refuse: { name: 'Only necessary ones', first: { name: 'Settings' } },
  })
  expect(banner!.text).not.toContain('position')
  for (const { selector, name } of [banner!.agree, banner!.refuse!])
    await expect(page.locator(`css=${selector}`).first().innerText()).resolves.toBe(name)
}, 300_000)

it('choices that are kept with none switched on are a refusal, and what is on is switched off before', async () => {
  // What lies over the page beside it asks nothing, though it speaks of privacy and has something to send and to switch.
  const choices = (
    on: string,
  ) => `<header style="position:sticky;top:0"><a href="/privacy">Privacy</a> <label><input type="checkbox"> Menu</label>
      <button>Submit</button></header>
    <div style="position:fixed;bottom:0">We use cookies. <button>Accept all</button>
      <button onclick="document.getElementById('choose').show()">Let me choose</button></div>
    <dialog id="choose">Which cookies? <label><input type="checkbox" checked disabled> Needed</label>
      <label><input type="checkbox" ${on}> Counting</label> <button>Save my choices</button></dialog>`
  withBanner(choices(''))
  await page.goto(`${plain.address}/about`)
  expect(await findAnswers(page)).toMatchObject({
    refuse: { name: 'Save my choices', first: { name: 'Let me choose' } },
  })
  await page.goto(`${plain.address}/about`)
  expect((await findAnswers(page))!.refuse).not.toHaveProperty('off')
  withBanner(choices('id="counting" checked'))
  await page.goto(`${plain.address}/about`)
  expect(await findAnswers(page)).toMatchObject({
    agree: { name: 'Accept all' },
    refuse: { name: 'Save my choices', first: { name: 'Let me choose' }, off: ['#counting'] },
  })
}, 300_000)

it('what is switched on by itself is switched off, however it is drawn, and kept so', async () => {
  // One box is drawn by its label alone, one switch is no box at all, and all stand on the banner itself.
  withBanner(`<form id="ask" style="position:fixed;bottom:0" onsubmit="return false">We use cookies, if you like.
      <label>Counting <input id="count" type="checkbox" checked style="position:absolute;opacity:0;width:0;height:0"></label>
      <span id="follow" role="switch" aria-checked="true" onclick="setTimeout(() => (this.ariaChecked = String(this.ariaChecked !== 'true')), 200)">Following</span>
      <button id="all">Accept all</button> <button id="keep">Save</button></form>
    <script>
      const ask = document.getElementById('ask')
      const take = (said) => {
        ask.remove()
        if (said.includes('true')) new Image().src = '/pictures/followed.png'
      }
      const say = (...said) => { localStorage.setItem('said', said.join()); take(said.join()) }
      document.getElementById('all').onclick = () => say(true, true)
      document.getElementById('keep').onclick = () =>
        say(document.getElementById('count').checked, document.getElementById('follow').ariaChecked)
      if (localStorage.getItem('said')) take(localStorage.getItem('said'))
    </script>`)
  const made = await t.call('POST', '/sites', {
    address: plain.address.replace('plain.', 'kept.'),
    local: true,
    withoutConnector: true,
  })
  const site = `/sites/${made.body.id}`
  await t.call('POST', `${site}/consent`, { path: '/about' })
  const row = (await OnDemandRow.findOne({ where: { siteId: made.body.id, kind: 'consent', state: 'waiting' } }))!
  const from = plain.asked.length
  await runReadOnDemand(workerTools(db, { browser }), { id: row.id }, aHold)
  const { banner, sides }: ConsentCost = (await t.call('GET', `${site}/consent`)).body
  expect(banner!.refuse).toEqual({ selector: '#keep', name: 'Save', off: ['#count', '#follow'] })
  expect(sides.map(({ side, failure }) => [side, failure])).toEqual([
    ['before', null],
    ['agreed', null],
    ['refused', null],
  ])
  // Where it was agreed, by the press and in the reading; where it was refused, by neither.
  expect(plain.asked.slice(from).filter((path) => path.includes('followed'))).toHaveLength(2)
  // A lens is made of it, and keeps it.
  const consent = { answer: 'refused', by: 'press', ...banner!.refuse }
  const [first] = (await t.call('GET', `${site}/lenses`)).body
  const lens = {
    name: 'Refused',
    device: first.device,
    network: null,
    cache: 'cold',
    visitor: { kind: 'signed-out' },
    consent,
  }
  expect((await t.call('POST', `${site}/lenses`, lens)).status).toBe(201)
  expect((await t.call('GET', `${site}/lenses`)).body.at(-1).consent).toEqual(consent)
  const wrong = await t.call('POST', `${site}/lenses`, { ...lens, name: 'Wrong', consent: { ...consent, off: [''] } })
  expect(wrong.status).toBe(422)
}, 300_000)

it('a frame that lies over nothing, or shows nothing, is no banner, nor is a document without a body', async () => {
  withBanner(inFrame(stranger).replace('position:fixed;', ''))
  await page.goto(`${plain.address}/about`)
  expect(await findBanner(page)).toBeNull()
  withBanner('<iframe src="http://nowhere.localhost:9/" style="position:fixed;bottom:0"></iframe>')
  await page.goto(`${plain.address}/about`)
  expect(await findBanner(page)).toBeNull()
  await page.goto('data:image/svg+xml,<svg xmlns="http://www.w3.org/2000/svg"><text>Cookies?</text></svg>')
  expect(await findBanner(page)).toBeNull()
}, 300_000)
