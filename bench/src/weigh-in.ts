// A weigh-in of four variants beside the bare loads it needs: the same page under the same rules and add-ons on trial, one at a time.
//   npm run bench -- weigh-in [rounds]
import { request } from 'node:http'
import { launchBrowser } from '@unvelt/server'
import { bareLoad, type BareLens } from './lib/bare-load.js'
import { call, pause, start, untilDone } from './lib/own-unvelt.js'

const ROUNDS = Number(process.argv[2] ?? 3)
const TIMES = 5
const site = process.env.STANDIN_URL!
const key = process.env.STANDIN_KEY!
const VARIANTS = [
  { name: 'As it is', addOns: {} },
  { name: 'Paid', versions: [{ addon: 'pass-it-on', version: '3.0.4-plus' }], addOns: { 'pass-it-on': '3.0.4-plus' } },
  { name: 'Without', without: ['pass-it-on'], addOns: { 'pass-it-on': null } },
  { name: 'Shelf', versions: [{ addon: 'plain-share', version: '1.2.0' }], addOns: { 'plain-share': '1.2.0' } },
]

/** Has the site keep a variant, as a weigh-in does. Node does not resolve the site's name, so it is given as `Host`. */
const keep = (addOns: object): Promise<string> =>
  new Promise((resolve, reject) => {
    const { host, port } = new URL(site)
    const headers = { host, authorization: `Bearer ${key}`, 'content-type': 'application/json' }
    const asked = request(
      { host: '127.0.0.1', port, path: '/unvelt/v1/drafts', method: 'POST', headers },
      async (response) => {
        const { id } = JSON.parse(Buffer.concat(await response.toArray()).toString()) as { id?: string }
        if (response.statusCode === 201) resolve(`draft-${id}`)
        else reject(new Error(`the site answered ${response.statusCode}`))
      },
    )
    asked.once('error', reject)
    asked.end(JSON.stringify({ format: 'unvelt-rules/1', rules: [], addOns }))
  })

const running = [start('main.js')]
try {
  while (!(await call('GET', '/health').catch(() => null))) await pause(200)
  const { id } = await call<{ id: number }>('POST', '/sites', { address: site, connectorKey: key, local: true })
  const pages = await call<{ id: number; path: string }[]>('GET', `/sites/${id}/pages`)
  const page = pages.find(({ path }) => path === '/about')!
  const [lens] = await call<BareLens[]>('GET', `/sites/${id}/lenses`)
  const browser = await launchBrowser(process.env.UNVELT_CHROMIUM!)
  running.push(start('worker/worker.js'))
  const kept = await Promise.all(VARIANTS.map(({ addOns }) => keep(addOns)))
  const bareRound = async (times: number): Promise<number> => {
    const began = performance.now()
    for (let n = 0; n < times; n++)
      for (const rules of kept) await bareLoad(browser, lens!, new URL(page.path, site), rules)
    return performance.now() - began
  }
  await bareRound(1)
  const ratios: number[] = []
  for (let round = 0; round < ROUNDS; round++) {
    // Half of the bare loads before and half after, so that what drifts meanwhile drifts for both.
    const before = await bareRound(Math.ceil(TIMES / 2))
    const from = performance.now()
    const variants = VARIANTS.map(({ addOns: _, ...variant }) => variant)
    const { sweep } = await call<{ sweep: { id: number } }>('POST', `/sites/${id}/weigh-ins`, {
      pageIds: [page.id],
      variants,
      repeats: TIMES,
    })
    const weighed = await untilDone(sweep.id, from)
    const bare = before + (await bareRound(Math.floor(TIMES / 2)))
    ratios.push(weighed / bare)
    console.log(`round ${round + 1}: bare ${(bare / 1000).toFixed(1)} s, weigh-in ${(weighed / 1000).toFixed(1)} s`)
  }
  await browser.close()
  const middle = ratios.sort((a, b) => a - b)[Math.floor(ratios.length / 2)]!
  console.log(`weigh-in ratio=${middle.toFixed(3)} goal=1.3`)
} finally {
  for (const child of running.reverse()) child.kill('SIGTERM')
}
