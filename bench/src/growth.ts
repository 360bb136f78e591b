// Whether any view of the interface grows faster from 200 pages to 2,000 than its answer does, in bytes as it is sent: what each takes
// once something of its site has changed, and when it is at hand. What a sweep comes to is worked out when it ends, and no part of it.
import { median } from '@unvelt/core'
import { connect } from '@unvelt/server'
import { sentFor } from './lib/bare-server.js'
import { call, pause, start } from './lib/own-unvelt.js'
import { fillLargeSite } from './lib/large-site.js'

const ROUNDS = 9
const SMALL = { n: 1, pages: 200 }
const LARGE = { n: 2, pages: 2_000 }
const VIEWS = (n: number) => [
  `/sites/${n}/ledger`,
  `/sites/${n}/ledger/cells?sweep=${n}`,
  `/sites/${n}/add-ons`,
  `/sites/${n}/pages`,
  `/sites/${n}/standing`,
  `/sites/${n}/outside?sweep=${n}`,
  `/sites/${n}/drafts`,
  `/sites/${n}/sweeps`,
  `/sites/${n}/rules`,
  `/sweeps/${n}/stale`,
  `/sites/${n}/retirements`,
]
const address = `http://127.0.0.1:${process.env.UNVELT_PORT!}/api`
const server = start('main.js')
const database = await connect(process.env.DATABASE_URL!)
const sql = (text: string) => database.query(text)

interface Took {
  anew: number
  atHand: number
  bytes: number
}

try {
  while (!(await call('GET', '/health').catch(() => null))) await pause(100)
  for (const size of [SMALL, LARGE]) await fillLargeSite(database, { addOns: 300, ...size })
  const small: Took[] = []
  const large: Took[] = []
  for (const view of VIEWS(SMALL.n)) small.push(await timesOf(SMALL.n, view))
  for (const view of VIEWS(LARGE.n)) large.push(await timesOf(LARGE.n, view))
  let worst = 0
  for (const [i, view] of VIEWS(LARGE.n).entries()) {
    const [a, b] = [small[i]!, large[i]!]
    const [bytes, anew, atHand] = [b.bytes / a.bytes, b.anew / a.anew, b.atHand / a.atHand]
    worst = Math.max(worst, anew / bytes, atHand / bytes)
    console.log(
      `${view.padEnd(30)} answer × ${bytes.toFixed(2)}; after a change ${a.anew.toFixed(1)} → ${b.anew.toFixed(1)} ms, × ${anew.toFixed(2)}; at hand ${a.atHand.toFixed(1)} → ${b.atHand.toFixed(1)} ms, × ${atHand.toFixed(2)}`,
    )
  }
  console.log(`growth ratio=${worst.toFixed(2)} goal=1`)
} finally {
  await database.close()
  server.kill('SIGINT')
}

/** Medians, ms; and the answer's size as it is sent. */
async function timesOf(site: number, view: string): Promise<Took> {
  const anew: number[] = []
  const atHand: number[] = []
  let bytes = 0
  const ask = async () => {
    const began = performance.now()
    bytes = (await sentFor(address + view)).bytes.length
    return performance.now() - began
  }
  await ask()
  for (let round = 0; round < ROUNDS; round++) {
    // Whatever hangs on the site's pages is put together once more.
    await sql(`update page set title = title || '' where site_id = ${site} and position = 1`)
    await pause(150)
    anew.push(await ask())
    atHand.push(await ask())
  }
  return { anew: median(anew), atHand: median(atHand), bytes }
}
