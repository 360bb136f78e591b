import { Op, literal } from 'sequelize'
import { SiteRow } from '../site/site.model.js'
import type { SiteWay, WayLookup } from './site-way.js'

/** A change is known to every other process after so long; a host that nothing is known of may just have become a site's. */
const FRESH_MS = 1_000
const FRESH_UNKNOWN_MS = 100

let changes = 0
/** A way was changed here, and is another one from now on. */
export const waysChanged = (): void => void (changes += 1)

/** The ways of all sites that have one of their own, by their own hosts and by the names that are mapped. */
export function wayBook(): WayLookup {
  let known = Promise.resolve(new Map<string, SiteWay>())
  let readAt = -Infinity
  let readOf = changes
  const readAfter = (ms: number) => {
    if (performance.now() - readAt <= ms && readOf === changes) return
    readAt = performance.now()
    readOf = changes
    known = readBook()
    // Whoever comes next tries again.
    known.catch(() => (readAt = -Infinity))
  }
  return async (host) => {
    readAfter(FRESH_MS)
    const way = (await known).get(host)
    if (way) return way
    readAfter(FRESH_UNKNOWN_MS)
    return (await known).get(host)
  }
}

async function readBook(): Promise<Map<string, SiteWay>> {
  const rows = await SiteRow.findAll({
    where: { [Op.or]: [{ certificate: { [Op.ne]: null } }, literal(`hosts <> '[]'`)] },
    attributes: ['address', 'ownHosts', 'certificate', 'hosts'],
    order: ['id'],
  })
  return new Map(
    rows.flatMap(({ address, ownHosts, certificate, hosts }) => {
      const way: SiteWay = {
        certificate,
        hosts: Object.fromEntries(hosts.map(({ host, address }) => [host, address])),
      }
      return [...Object.keys(way.hosts), new URL(address).host, ...ownHosts].map((host) => [host, way] as const)
    }),
  )
}
