import type { Browser } from 'playwright-core'
import { launchBrowser } from '../src/measure/browser.js'

let browser: Browser
beforeAll(async () => {
  browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
}, 30_000)
afterAll(() => browser?.close())

it('the measuring browser opens nothing of its own beside a page', async () => {
  const context = await browser.newContext()
  await context.newPage()
  const session = await browser.newBrowserCDPSession()
  // Without a filter, those that the browser keeps to itself are left out.
  const { targetInfos } = await session.send('Target.getTargets', { filter: [{}] })
  const opened = targetInfos.filter(({ type }) => type !== 'tab' && type !== 'browser')
  expect(opened.map(({ type, url }) => `${type} ${url}`)).toEqual(['page about:blank'])
  await context.close()
}, 30_000)
