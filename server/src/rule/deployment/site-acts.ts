import type { Rule } from '@unvelt/core'
import { ConnectorError } from '../../site-http/connector-client.js'
import { giveCopies } from '../../site-http/give-copies.js'
import { count, type Case } from './deployment-case.js'
import { sending } from './deployment-plan.js'

/** Pages are warmed in parts, so that no call to the site takes long. */
const WARMED_AT_A_TIME = 10

/** Sends rules in the place of a version, once. Null where somebody else was first. */
export async function put({ connector, site, hold }: Case, replaced: number, rules: Rule[]): Promise<number | null> {
  const next = sending(replaced, rules, await connector.rules())
  if (next.do === 'stop') return null
  if (next.do === 'go on') return next.version
  await giveCopies(connector, site.id, rules)
  hold.check()
  try {
    return await connector.putRules(rules, replaced)
  } catch (error) {
    if (error instanceof ConnectorError && error.fault === 'stale') return null
    throw error
  }
}

export async function purgeAndWarm({ connector, touched, toCheck }: Case): Promise<string[]> {
  if (touched.length === 0) return []
  const { caches } = await connector.purge(touched.map(({ path }) => path))
  let warmed = 0
  for (let from = 0; from < toCheck.length; from += WARMED_AT_A_TIME)
    warmed += (await connector.warm(toCheck.slice(from, from + WARMED_AT_A_TIME).map(({ path }) => path))).warmed
  return [
    ...caches.map(({ name, purged }) => `Of the ${name}, ${count(purged, 'copy', 'copies')} purged.`),
    `${count(warmed, 'page')} warmed.`,
  ]
}
