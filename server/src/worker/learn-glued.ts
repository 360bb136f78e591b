import { QueryTypes, type Sequelize } from 'sequelize'
import { attribute, isOwnFolder, sharesOfParts, UNASSIGNED, type AttributionSources, type Reading } from '@unvelt/core'
import { reachOf } from '../reach/reach.js'
import { readSourceMap } from '../site-http/read-source-map.js'
import { ConnectorClient, ConnectorError } from '../site-http/connector-client.js'
import type { SiteRow } from '../site/site.model.js'
import type { SweepRow } from '../sweep/sweep.model.js'

/** Files that nobody could say more of, so that one nobody knows isn't asked about at each reading. */
const askedInVain = new Set<string>()
const MOST_REMEMBERED = 5_000
const MOST_MAPS_A_READING = 20

type Parts = NonNullable<AttributionSources['glued']>[string]

/**
 * Sites glue files while they make a page, so what was known before a sweep can't tell of them. When a reading has a file of
 * the site's own that nobody is known to pay for, the register is asked again, and where it says nothing the file's own
 * source map is looked at. The sweep keeps what is learnt.
 */
export async function learnGlued(
  sequelize: Sequelize,
  site: SiteRow,
  sweep: SweepRow,
  reading: Reading,
  key: string | null,
): Promise<void> {
  const unknown = unknownOwnFiles(reading, sweep.sources)
  for (const path of unknown.keys()) if (askedInVain.has(`${sweep.id} ${path}`)) unknown.delete(path)
  if (unknown.size === 0) return
  const byRegister = key === null ? {} : await askRegister(site, [...unknown.keys()], key)
  const byMap: Record<string, Parts> = {}
  for (const [path, url] of [...unknown].filter(([path]) => !(path in byRegister)).slice(0, MOST_MAPS_A_READING)) {
    const parts = await readSourceMap(url, reachOf(site))
    const shares = parts && sharesOfParts(parts, sweep.sources)
    if (shares && areParts(shares)) byMap[path] = shares
    else askedInVain.add(`${sweep.id} ${path}`)
  }
  if (askedInVain.size > MOST_REMEMBERED) askedInVain.clear()
  const learnt = { ...byMap, ...byRegister }
  if (Object.keys(learnt).length === 0) return
  const [row] = await sequelize.query<{ sources: AttributionSources }>(
    `update sweep set sources = sources
       || jsonb_build_object('glued', coalesce(sources -> 'glued', '{}') || :learnt::jsonb)
       || jsonb_build_object('mapped', coalesce(sources -> 'mapped', '[]') || :mapped::jsonb)
     where id = :sweep returning sources`,
    {
      replacements: {
        sweep: sweep.id,
        learnt: JSON.stringify(learnt),
        mapped: JSON.stringify(Object.keys(byMap)),
      },
      type: QueryTypes.SELECT,
    },
  )
  sweep.sources = row!.sources
}

async function askRegister(site: SiteRow, paths: string[], key: string): Promise<Record<string, Parts>> {
  if (!site.connector) return {}
  const glued = await new ConnectorClient(site.address, site.connector.base, key, reachOf(site))
    .assets()
    .then((assets) => assets.glued ?? {})
    .catch((error: unknown) => {
      if (error instanceof ConnectorError) return {}
      throw error
    })
  return Object.fromEntries(Object.entries(glued).filter(([path, parts]) => paths.includes(path) && areParts(parts)))
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

/** Code on the site's own hosts that nobody is known to pay for, or that only its folder tells apart: path → address. */
function unknownOwnFiles(reading: Reading, sources: AttributionSources): Map<string, string> {
  const { requests } = attribute(reading, sources)
  const own = reading.requests.filter(({ id, url, type }) => {
    const { payer, evidence } = requests.get(id)!
    const unknown = payer === UNASSIGNED || (evidence === 'folder' && isOwnFolder(payer))
    return (type === 'script' || type === 'style') && unknown && sources.ownHosts.includes(new URL(url).host)
  })
  return new Map(own.map(({ url }) => [new URL(url).pathname, url]))
}
