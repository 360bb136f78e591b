import type { Browser } from 'playwright-core'
import { launchBrowser } from '../src/browser/browser.js'
import { whileConnected } from '../src/browser/while-connected.js'

let browser: Browser
beforeAll(async () => {
  browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
})
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
})

it('nothing is waited for that a browser was asked for before it went away', async () => {
  const other = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
  expect(await whileConnected(other, Promise.resolve('an answer'))).toBe('an answer')
  await expect(whileConnected(other, Promise.reject(new Error('an error')))).rejects.toThrow('an error')
  const failing = expect(whileConnected(other, new Promise(() => {}))).rejects.toThrow('went away')
  await other.close()
  await failing
  await expect(whileConnected(other, new Promise(() => {}))).rejects.toThrow('went away')
})
