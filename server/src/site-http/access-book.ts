import { Op } from 'sequelize'
import { log } from '../log/log.js'
import { SiteRow } from '../site/site.model.js'
import { open } from './secret-box.js'
import { accessHeaders, type AccessHeaders, type AccessLookup, type SiteAccess } from './site-access.js'

/** A change is known to every process after so long. */
const FRESH_MS = 1_000

/** The headers of all sites that need some, by their own hosts. */
export function accessBook(secret: Buffer): AccessLookup {
  let known = Promise.resolve(new Map<string, AccessHeaders>())
  let readAt = -Infinity
  return async (host) => {
    if (performance.now() - readAt > FRESH_MS) {
      readAt = performance.now()
      known = readBook(secret)
      // Whoever comes next tries again.
      known.catch(() => (readAt = -Infinity))
    }
    return (await known).get(host) ?? {}
  }
}

async function readBook(secret: Buffer): Promise<Map<string, AccessHeaders>> {
  const rows = await SiteRow.findAll({
    where: { access: { [Op.ne]: null } },
    attributes: ['address', 'ownHosts', 'access'],
    order: ['id'],
  })
  return new Map(
    rows.flatMap(({ address, ownHosts, access }) => {
      try {
        const headers = accessHeaders(openAccess(access!, secret))
        return [new URL(address).host, ...ownHosts].map((host) => [host, headers] as const)
      } catch (error) {
        // Sealed by another secret: that site stays closed, and no other with it.
        log.warn({ part: 'access', site: address }, (error as Error).message)
        return []
      }
    }),
  )
}

export const openAccess = (sealed: string, secret: Buffer): SiteAccess => JSON.parse(open(sealed, secret)) as SiteAccess
