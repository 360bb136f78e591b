// A ledger of 300 add-ons × 2,000 pages × 8 measures: from request to first paint, scrolling, change of measure; and the
// ledger's queries beside a million readings.
import { spawn } from 'node:child_process'
import { fileURLToPath } from 'node:url'
import { chromium, type Page } from 'playwright-core'
import { median } from '@unvelt/core'
import { connect } from '@unvelt/server'
import { fillLargeSite } from './lib/large-site.js'

const ADD_ONS = 300
const PAGES = 2_000
const ROUNDS = 5
/** In turn with the floor; the first of each is not counted, as nothing is warm then. */
const PAINTS = 11
const FRAMES = 360
const READINGS = 1_000_000
const READ_SWEEPS = 250

const ms = (value: number) => `${value.toFixed(0)} ms`
const port = process.env.UNVELT_PORT!
const address = `http://127.0.0.1:${port}`
const server = spawn(process.execPath, [fileURLToPath(new URL('../../server/dist/main.js', import.meta.url))], {
  env: process.env,
  stdio: ['ignore', 'ignore', 'inherit'],
})
const database = await connect(process.env.DATABASE_URL!)
const sql = async (text: string) => (await database.query(text))[0] as Record<string, unknown>[]

try {
  for (
    let tries = 0;
    !(await fetch(`${address}/api/health`).then(
      (r) => r.ok,
      () => false,
    ));
    tries++
  ) {
    if (tries > 300) throw new Error('the server did not come up')
    await new Promise((resolve) => setTimeout(resolve, 100))
  }
  await fillLargeSite(database, { addOns: ADD_ONS, pages: PAGES, drafts: process.env.WITH_DRAFTS !== undefined })
  await answers()
  const browser = await chromium.launch({
    executablePath: process.env.UNVELT_CHROMIUM!,
    args: ['--no-sandbox', '--disable-gpu'],
  })
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
  const paints: number[] = []
  const floors: number[] = []
  for (let round = 0; round <= PAINTS; round++) {
    paints.push(await firstPaint(page))
    floors.push(await floor(page))
  }
  for (const times of [paints, floors]) times.shift()
  await firstPaint(page)
  const changes = await measureChanges(page)
  const idle = await longFrames(page, false)
  await longFrames(page, true)
  const scrolled: LongFrames[] = []
  for (let round = 0; round < ROUNDS; round++) scrolled.push(await longFrames(page, true))
  await browser.close()
  const rounded = (times: number[]) => times.map((each) => Math.round(each)).join(', ')
  console.log(
    `first paint ${ms(median(paints))} from the press (${rounded(paints)}); the same bytes fetched, decoded and one canvas painted ${ms(median(floors))} (${rounded(floors)})`,
  )
  console.log(`change of measure ${ms(median(changes))}, worst ${ms(Math.max(...changes))}`)
  const share = (part: number) => `${(part * 100).toFixed(1)} %`
  console.log(
    `scrolling: ${share(median(scrolled.map((each) => each.seen)))} of ${FRAMES} frames took more than 20 ms (${scrolled.map((each) => share(each.seen)).join(', ')}; at rest ${share(idle.seen)}; goal under 2 %); from callback to callback ${share(median(scrolled.map((each) => each.called)))} (at rest ${share(idle.called)})`,
  )
  await beside()
  console.log(`ledger ratio=${(median(paints) / median(floors)).toFixed(2)} goal=2.5`)
} finally {
  await database.close()
  server.kill('SIGINT')
}

async function answers(): Promise<void> {
  for (const path of ['/ledger', '/ledger/cells?sweep=1']) {
    const times: number[] = []
    let size = 0
    for (let round = 0; round < ROUNDS; round++) {
      const began = performance.now()
      size = (await (await fetch(`${address}/api/sites/1${path}`)).arrayBuffer()).byteLength
      times.push(performance.now() - began)
    }
    console.log(`${path}: ${(size / 1e6).toFixed(1)} MB in ${ms(median(times))}`)
  }
}

/** From the press on *Ledger* in another place to the frame after its first cells. */
async function firstPaint(page: Page): Promise<number> {
  await page.goto(`${address}/sites/1/settings`)
  await page.getByRole('link', { name: 'Ledger' }).waitFor()
  return page.evaluate(async () => {
    const link = [...document.querySelectorAll('a')].find((a) => a.textContent === 'Ledger')!
    const began = performance.now()
    link.click()
    await new Promise<void>((resolve) => {
      const look = () =>
        document.querySelector('[role=gridcell][data-row]')
          ? requestAnimationFrame(() => resolve())
          : requestAnimationFrame(look)
      look()
    })
    return performance.now() - began
  })
}

/** What nobody could do without: the two answers fetched side by side, decoded, and the cells of one screen filled in. */
async function floor(page: Page): Promise<number> {
  await page.goto(`${address}/sites/1/settings`)
  await page.getByRole('link', { name: 'Ledger' }).waitFor()
  return page.evaluate(async () => {
    const began = performance.now()
    const [ledger, cells] = await Promise.all([
      fetch('/api/sites/1/ledger').then((response) => response.json() as Promise<{ payers: { name: string }[] }>),
      fetch('/api/sites/1/ledger/cells?sweep=1').then((response) => response.arrayBuffer()),
    ])
    const values = new Uint32Array(cells, 12, 4096)
    const canvas = document.createElement('canvas')
    canvas.width = innerWidth
    canvas.height = innerHeight
    document.body.replaceChildren(canvas)
    const ink = canvas.getContext('2d')!
    for (let row = 0; row < 24; row++) {
      ink.fillStyle = '#000'
      ink.fillText(ledger.payers[row]!.name, 0, row * 30 + 20)
      for (let column = 0; column < 20; column++) {
        ink.fillStyle = `rgb(${values[row * 20 + column]! % 255} 90 20)`
        ink.fillRect(160 + column * 56, row * 30, 54, 28)
      }
    }
    await new Promise((resolve) => requestAnimationFrame(resolve))
    return performance.now() - began
  })
}

async function measureChanges(page: Page): Promise<number[]> {
  const times: number[] = []
  for (const name of ['Idle', 'Requests', 'Server time', 'Decoded', 'Queries', 'Transfer'])
    times.push(
      await page.evaluate(async (wanted) => {
        const choice = [...document.querySelectorAll<HTMLElement>('[aria-label=Measure] label')].find(
          ({ textContent }) => textContent === wanted,
        )!
        const began = performance.now()
        choice.click()
        await new Promise<void>((resolve) => {
          const look = () =>
            document.querySelector('[role=grid]')!.getAttribute('aria-label')!.endsWith(wanted)
              ? requestAnimationFrame(() => resolve())
              : requestAnimationFrame(look)
          look()
        })
        return performance.now() - began
      }, name),
    )
  return times
}

interface LongFrames {
  /** By the browser's own clock of frames: what is seen. */
  seen: number
  /** Between two callbacks, which also come late within a frame that is drawn in time. */
  called: number
}

/** Down, and along, at the pace of a wheel, for some seconds; or at rest. Which share of the frames took more than 20 ms. */
function longFrames(page: Page, scroll: boolean): Promise<LongFrames> {
  return page.evaluate(
    async ({ frames, scroll }) => {
      const grid = document.querySelector('[role=grid]')!
      // Each round the same way: at the end of the rows there would be nothing to scroll.
      if (scroll) grid.scrollTo(0, 0)
      const seen: number[] = []
      const called: number[] = []
      for (let n = 0; n < frames; n++) {
        seen.push(await new Promise<number>((resolve) => requestAnimationFrame(resolve)))
        called.push(performance.now())
        if (scroll) grid.scrollBy(n % 120 < 60 ? 0 : 36, n % 120 < 60 ? 24 : 0)
      }
      const share = (moments: number[]) => {
        const gaps = moments.slice(1).map((moment, n) => moment - moments[n]!)
        return gaps.filter((gap) => gap > 20).length / gaps.length
      }
      return { seen: share(seen), called: share(called) }
    },
    { frames: FRAMES, scroll },
  )
}

/** The ledger's own query beside a million readings and the tolls of many sweeps. */
async function beside(): Promise<void> {
  await sql(`insert into sweep (site_id, lens_id, purpose, status, repeats, variants, sources, started_at, finished_at)
    select 1, 1, 'survey', 'done', 2, '[{"name":"live","rules":"live"}]', '{}', now() - n * interval '1 day', now() from generate_series(1, ${READ_SWEEPS}) n`)
  await sql(`insert into reading (sweep_id, page_id, variant, repeat, requests, transfer_bytes, decoded_bytes, load_ms)
    select sweep.id, page.id, 'live', repeat, 100, 100000, 200000, 900
    from sweep cross join page cross join generate_series(1, 2) repeat where sweep.id > 1`)
  await sql(`insert into toll (sweep_id, page_id, variant, payer, requests, transfer_bytes, decoded_bytes, server_ms, queries, query_ms)
    select sweep.id, page.id, 'live', 'add-on-' || n, 1, 1000, 2000, 1, 0, 0
    from sweep cross join page cross join generate_series(1, 2) n where sweep.id > 1`)
  await sql('analyze')
  const [count] = await sql('select count(*)::int n from reading')
  const query = `select payer, sum(transfer_bytes) from toll where sweep_id = 77 and variant = 'live' group by payer`
  const times: number[] = []
  for (let n = 0; n < 60; n++) {
    const began = performance.now()
    await sql(query.replace('77', String(2 + ((n * 37) % READ_SWEEPS))))
    times.push(performance.now() - began)
  }
  times.sort((a, b) => a - b)
  const plan = (await sql(`explain ${query}`)).map((row) => String(row['QUERY PLAN'])).join(' ')
  const index = /Index (?:Only )?Scan using (\w+)|Bitmap Index Scan on (\w+)/.exec(plan)
  console.log(
    `beside ${Number(count!.n).toLocaleString('en')} readings: ledger query p95 ${ms(times[Math.floor(times.length * 0.95)]!)} (goal 150 ms), by ${index ? `index ${index[1] ?? index[2]}` : `no index: ${plan}`}`,
  )
  if (Number(count!.n) < READINGS) throw new Error(`only ${count!.n} readings were made`)
}
