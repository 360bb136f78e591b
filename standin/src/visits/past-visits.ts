import { seeded } from '@unvelt/core'
import type { SitePage } from '../content/site-page.js'
import { clfTime } from '../http/access-log.js'

export const PAST_DAYS = 30
const VISITS_A_DAY = 260
const DAY_MS = 86_400_000

/** How often a page of a kind is asked for, against the others. */
const KIND_PULL: Record<string, number> = { page: 10, event: 5, article: 3, tree: 1.5, product: 2 }

const PEOPLE = [
  'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/150.0 Safari/537.36',
  'Mozilla/5.0 (Linux; Android 16) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/150.0 Mobile Safari/537.36',
  'Mozilla/5.0 (Windows NT 10.0; Win64; x64; rv:144.0) Gecko/20100101 Firefox/144.0',
]
const MACHINES = [
  'Gatherbot/2.1 (+http://gatherbot.example/about)',
  'feedreader/4 (3 subscribers)',
  'sitecheck-monitor/1.0',
]

/**
 * The visits of the thirty days before today, made up from a seed: each visit sees a few pages, the known pages more
 * often; a quarter of it is machines. As lines of a combined log, oldest first.
 */
export function* pastVisits(pages: readonly SitePage[], seed: number, now: Date): Generator<string> {
  const open = pages.filter((page) => page.area === 'public' && !page.roles && !page.unlisted)
  const pulls = open.map((page, n) => (page.path === '/' ? 60 : (KIND_PULL[page.kind] ?? 1) / (1 + (n % 9) / 3)))
  const sums: number[] = []
  for (const pull of pulls) sums.push((sums.at(-1) ?? 0) + pull)
  const today = Math.floor(now.getTime() / DAY_MS)
  for (let day = today - PAST_DAYS; day < today; day++) {
    const random = seeded(seed + day)
    const draw = () => {
      const at = random() * sums.at(-1)!
      return open[sums.findIndex((sum) => sum > at)]!
    }
    for (let visit = 0; visit < VISITS_A_DAY; visit++) {
      const machine = random() < 0.25
      const agent = machine
        ? MACHINES[Math.floor(random() * MACHINES.length)]!
        : PEOPLE[Math.floor(random() * PEOPLE.length)]!
      const address = `10.${Math.floor(random() * 256)}.${Math.floor(random() * 256)}.${Math.floor(random() * 256)}`
      let seconds = Math.floor((visit / VISITS_A_DAY) * 86_000)
      let from = '-'
      for (let seen = 0; seen < 1 + Math.floor(random() * 4); seen++) {
        const { path } = seen === 0 && random() < 0.3 ? open[0]! : draw()
        const at = new Date(day * DAY_MS + seconds * 1000)
        const bytes = 9_000 + Math.floor(random() * 9_000)
        yield `${address} - - [${clfTime(at)}] "GET ${path} HTTP/1.1" 200 ${bytes} "${from}" "${agent}"\n`
        from = `http://fernhollow.localhost${path}`
        seconds += 5 + Math.floor(random() * 90)
      }
    }
  }
}

/** Page views of people by path, out of the same visits. */
export function pastViews(pages: readonly SitePage[], seed: number, now: Date): Map<string, number> {
  const views = new Map<string, number>()
  for (const line of pastVisits(pages, seed, now)) {
    if (MACHINES.some((machine) => line.endsWith(`"${machine}"\n`))) continue
    const [, path = ''] = /"GET (\S+) /.exec(line) ?? []
    views.set(path, (views.get(path) ?? 0) + 1)
  }
  return views
}
