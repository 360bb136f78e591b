// The same pages swept by one worker and by two on this machine, in turn: what two spare of the time, and what that does to
// the times that are read.
//   npm run bench -- workers [pages] [rounds]
import { once } from 'node:events'
import { median } from '@unvelt/core'
import { call, pause, start, sweepToEnd } from './lib/own-unvelt.js'

const PAGES = Number(process.argv[2] ?? 8)
const ROUNDS = Number(process.argv[3] ?? 3)
const REPEATS = 4
const running = [start('main.js')]

/** Worse load times than these would be the second worker's doing. */
const GOAL = 1.05

try {
  while (!(await call('GET', '/health').catch(() => null))) await pause(200)
  const { id } = await call<{ id: number }>('POST', '/sites', {
    address: process.env.STANDIN_URL!,
    connectorKey: process.env.STANDIN_KEY!,
    local: true,
  })
  const pages = await call<{ id: number; area: string; signedIn: boolean }[]>('GET', `/sites/${id}/pages`)
  const pageIds = pages.filter(({ area, signedIn }) => area === 'public' && !signedIn).map((page) => page.id)
  const request = { pageIds: pageIds.slice(0, PAGES), repeats: REPEATS }
  const first = start('worker/worker.js')
  running.push(first)
  const walls: Record<number, number[]> = { 1: [], 2: [] }
  const ratios: number[] = []
  for (let round = 0; round < ROUNDS; round++) {
    const loads: Record<number, number[]> = {}
    // In turn, and in the other order each second time, so that what drifts drifts for both.
    for (const count of round % 2 ? [2, 1] : [1, 2]) {
      const second = count === 2 ? start('worker/worker.js') : null
      if (second) await pause(4_000)
      const sweep = await sweepToEnd(id, request)
      second?.kill('SIGTERM')
      if (second) await once(second, 'exit')
      walls[count]!.push(sweep.ms)
      loads[count] = await loadsOf(id, sweep.id, request.pageIds)
    }
    // Page by page, since pages differ more than workers do.
    ratios.push(median(loads[2]!.map((ms, page) => ms / loads[1]![page]!)))
  }
  const seconds = (count: number) => (median(walls[count]!) / 1000).toFixed(1)
  console.log(`${request.pageIds.length} pages, ${REPEATS} repeats, ${ROUNDS} rounds each way`)
  console.log(`a sweep: ${seconds(1)} s with one worker, ${seconds(2)} s with two (medians)`)
  console.log(`load times with two against one, round by round: ${ratios.map((ratio) => ratio.toFixed(3)).join(' ')}`)
  console.log(`workers ratio=${median(ratios).toFixed(3)} goal=${GOAL}`)
} finally {
  for (const child of running.reverse()) child.kill('SIGTERM')
}

/** The load time of each page in a sweep, ms. */
function loadsOf(site: number, sweep: number, pageIds: number[]): Promise<number[]> {
  return Promise.all(
    pageIds.map(async (page) => {
      const sheet = await call<{ timings: { load: number } }>('GET', `/sites/${site}/pages/${page}?sweep=${sweep}`)
      return sheet.timings.load
    }),
  )
}
