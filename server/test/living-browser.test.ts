import { chmodSync, mkdtempSync, writeFileSync } from 'node:fs'
import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Sequelize } from 'sequelize'
import { launchBrowser } from '../src/browser/browser.js'
import { Browsers } from '../src/browser/browsers.js'
import { DEFAULT_LENS } from '../src/lens/lens-settings.js'
import { BrowserUnavailable, ownTrouble } from '../src/queue/own-trouble.js'
import { failureSentence } from '../src/reading/failure.js'
import { readInLivingBrowser } from '../src/worker/read-in-living-browser.js'
import { workerTools } from './worker-tools.js'

/** Pages that share a browser, and one among them that ends whatever browser it is read in. */
let site: Server
let origin: string
let browsers: Browsers
/** Which process asked, by what it calls itself, for each path. */
const asked: [path: string, pid: number][] = []

beforeAll(async () => {
  const program = join(mkdtempSync(join(tmpdir(), 'browser-')), 'chromium')
  const chromium = process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium'
  writeFileSync(program, `#!/bin/sh\nexec ${chromium} --user-agent="process $$" "$@"\n`)
  chmodSync(program, 0o755)
  browsers = new Browsers(() => launchBrowser(program))
  site = createServer((request, response) => {
    const pid = Number(/process (\d+)/.exec(request.headers['user-agent'] ?? '')![1])
    asked.push([request.url!, pid])
    if (request.url === '/tiny') return void process.kill(pid, 'SIGKILL')
    // Slow enough to be under way when its neighbour goes.
    setTimeout(
      () => response.writeHead(200, { 'content-type': 'text/html' }).end('<!doctype html><title>Sound</title>'),
      700,
    )
  })
  await new Promise<void>((resolve) => site.listen(0, '127.0.0.1', resolve))
  origin = `http://site.localhost:${(site.address() as AddressInfo).port}`
})
afterAll(async () => {
  await browsers?.close()
  site?.closeAllConnections()
  await new Promise((resolve) => site?.close(resolve))
})

it('a page that ends its browser fails by itself, and its neighbours are read', async () => {
  const tools = workerTools({} as Sequelize, { browsers })
  const read = (path: string) =>
    readInLivingBrowser(
      tools,
      { url: origin + path, lens: DEFAULT_LENS.settings, reach: 'anywhere', untimed: true },
      false,
    ).then(({ title }) => title, failureSentence)
  // Several rounds, since a neighbour must not lose a try in any of them.
  for (let round = 0; round < 2; round++)
    expect(await Promise.all(['/one', '/tiny', '/two'].map(read))).toEqual([
      'Sound',
      'The page ended the measuring browser, 3 times.',
      'Sound',
    ])
  const tiny = asked.filter(([path]) => path === '/tiny').map(([, pid]) => pid)
  // Each time in another browser, and after the first one in one that nobody shares.
  expect(new Set(tiny).size).toBe(tiny.length)
  const alone = asked.filter(([path, pid]) => path.length === 4 && path !== '/tiny' && tiny.slice(1, 3).includes(pid))
  expect(alone).toEqual([])
})

it('a browser that can’t be started is Unvelt’s own trouble, and no page’s', async () => {
  const none = new Browsers(() => launchBrowser('/nowhere/chromium'))
  const error: unknown = await none.shared().catch((caught: unknown) => caught)
  expect(error).toBeInstanceOf(BrowserUnavailable)
  expect(ownTrouble(error)).toEqual({ why: expect.stringContaining('can’t be started'), passes: false })
})

it('one that only comes too late is waited for', async () => {
  const late = new Browsers(() => Promise.reject(new Error('browserType.launch: Timeout 180000ms exceeded.')))
  const error: unknown = await late.shared().catch((caught: unknown) => caught)
  expect(ownTrouble(error)).toEqual({ why: expect.stringContaining('Timeout'), passes: true })
})
