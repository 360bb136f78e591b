import { QueryTypes, type Sequelize } from 'sequelize'
import { attribute, UNASSIGNED, type AttributionSources, type Reading } from '@unvelt/core'
import { reachOf } from '../reach/reach.js'
import { ConnectorClient, ConnectorError } from '../site/connector-client.js'
import type { SiteRow } from '../site/site.model.js'
import type { SweepRow } from '../sweep/sweep.model.js'

/** Paths that the register was asked about in vain, so that a file nobody knows isn't asked about at each reading. */
const askedInVain = new Set<string>()
const MOST_REMEMBERED = 5_000

/**
 * Sites glue files while they make a page, so the register that was read before a sweep can't know them. When a reading
 * has a file of the site's own that nobody is known to pay for, the register is asked again and the sweep keeps what it says.
 */
export async function learnGlued(
  sequelize: Sequelize,
  site: SiteRow,
  sweep: SweepRow,
  reading: Reading,
  key: string,
): Promise<void> {
  if (!site.connector) return
  const unknown = unknownOwnPaths(reading, sweep.sources).filter((path) => !askedInVain.has(`${sweep.id} ${path}`))
  if (unknown.length === 0) return
  const glued = await new ConnectorClient(site.address, site.connector.base, key, reachOf(site))
    .assets()
    .then((assets) => assets.glued ?? {})
    .catch((error: unknown) => {
      if (error instanceof ConnectorError) return {}
      throw error
    })
  const learnt = Object.fromEntries(
    Object.entries(glued).filter(([path, parts]) => unknown.includes(path) && areParts(parts)),
  )
  for (const path of unknown) if (!(path in learnt)) askedInVain.add(`${sweep.id} ${path}`)
  if (askedInVain.size > MOST_REMEMBERED) askedInVain.clear()
  if (Object.keys(learnt).length === 0) return
  const [row] = await sequelize.query<{ sources: AttributionSources }>(
    `update sweep set sources = jsonb_set(sources, '{glued}', coalesce(sources -> 'glued', '{}') || :learnt::jsonb)
     where id = :sweep returning sources`,
    { replacements: { sweep: sweep.id, learnt: JSON.stringify(learnt) }, type: QueryTypes.SELECT },
  )
  sweep.sources = row!.sources
}

const MOST_PARTS = 5_000

/** What the site says of a glued file is used only when it makes sense as a whole. */
function areParts(parts: unknown): boolean {
  const whole = (n: unknown) => Number.isSafeInteger(n) && Number(n) >= 0
  return (
    Array.isArray(parts) &&
    parts.length <= MOST_PARTS &&
    parts.every(
      (part: { addon?: unknown; from?: unknown; bytes?: unknown } | null) =>
        part !== null &&
        (part.addon === null || typeof part.addon === 'string') &&
        whole(part.from) &&
        whole(part.bytes),
    )
  )
}

function unknownOwnPaths(reading: Reading, sources: AttributionSources): string[] {
  const { requests } = attribute(reading, sources)
  const own = reading.requests.filter(
    ({ id, url, type }) =>
      (type === 'script' || type === 'style') &&
      requests.get(id)!.payer === UNASSIGNED &&
      sources.ownHosts.includes(new URL(url).host),
  )
  return [...new Set(own.map(({ url }) => new URL(url).pathname))]
}
