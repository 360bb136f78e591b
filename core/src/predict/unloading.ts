import type { Attribution } from '../attribution/attribute.js'
import type { Reading } from '../reading/reading.js'
import { serverTolls } from '../server-cost/server-tolls.js'
import type { Effect } from '../rule/rule.js'
import { GOES } from '../rewrite/stop-list.js'

/** What an add-on needs to work, as the site declares it. */
export interface Dependencies {
  /** Add-on → the add-ons it needs. */
  needs: Record<string, string[]>
  /** Add-ons that the site loads only because another one needs them. */
  libraries: string[]
}

/** Which payers a page goes without, and the libraries that stay because something kept needs them. */
export interface Unloading {
  /** Payer → by which effect. */
  unloaded: Map<string, Effect>
  /** Library → the payers that need it. */
  staying: Record<string, string[]>
}

/** Everybody who is charged with anything of a page, in the browser or on the server. */
export function presentPayers(
  { serverTiming }: Pick<Reading, 'serverTiming'>,
  { requests, shares, inlineCode, mainThread }: Attribution,
): Set<string> {
  const present = new Set<string>()
  for (const { payer } of requests.values()) present.add(payer)
  for (const parts of shares.values()) for (const { payer } of parts) present.add(payer)
  for (const charge of inlineCode) if (charge) present.add(charge.payer)
  for (const { payer } of mainThread) present.add(payer)
  for (const payer of serverTolls(serverTiming)?.keys() ?? []) present.add(payer)
  return present
}

/**
 * Adds to what is to go the libraries that nothing kept needs any more, libraries of libraries among them, and takes out those
 * that something kept needs. Libraries that nobody ever needed stay unless they are named themselves.
 */
export function unloading(
  present: ReadonlySet<string>,
  effects: ReadonlyMap<string, Effect>,
  { needs, libraries }: Dependencies,
): Unloading {
  const needed = (payer: string) => (Object.hasOwn(needs, payer) ? needs[payer]! : [])
  const named = new Map([...effects].filter(([, effect]) => GOES.has(effect)))
  const here = libraries.filter((library) => present.has(library))
  const isLibrary = new Set(here)
  const wantedBy = new Map<string, string[]>()
  for (const payer of present)
    for (const library of new Set(needed(payer)))
      if (isLibrary.has(library) && library !== payer) wantedBy.set(library, [...(wantedBy.get(library) ?? []), payer])
  // A library that nobody on the page needs is there for its own sake, and so are two that need only each other.
  const ownSake = [...present].filter((payer) => !isLibrary.has(payer) || !wantedBy.has(payer))
  const before = reachedFrom(ownSake, needed, isLibrary)
  const roots = [...ownSake, ...here.filter((library) => !before.has(library))]
  // Who stays in any case stays first; then whatever those who stay need, and so on.
  const stays = new Set(roots.filter((payer) => !named.has(payer)))
  const neededBy = new Map<string, string[]>()
  const waiting = [...stays]
  for (let payer = waiting.pop(); payer !== undefined; payer = waiting.pop())
    for (const library of new Set(needed(payer))) {
      if (!isLibrary.has(library) || library === payer) continue
      neededBy.set(library, [...(neededBy.get(library) ?? []), payer])
      if (stays.has(library)) continue
      stays.add(library)
      waiting.push(library)
    }
  const unloaded = new Map([...named].filter(([payer]) => !stays.has(payer)))
  const gone = new Set([...present].filter((payer) => !stays.has(payer)))
  const order = [...gone].filter((payer) => isLibrary.has(payer) && !named.has(payer))
  // A library goes the way of those who needed it: it is not run only where none of them is.
  for (let changed = true; changed;) {
    changed = false
    for (const library of order) {
      const ways = (wantedBy.get(library) ?? []).flatMap((payer) => unloaded.get(payer) ?? [])
      if (ways.length === 0) continue
      const way: Effect = ways.every((effect) => effect === 'skip') ? 'skip' : 'leave-out'
      if (unloaded.get(library) !== way && !(unloaded.get(library) === 'leave-out')) {
        unloaded.set(library, way)
        changed = true
      }
    }
  }
  const staying = Object.fromEntries(
    here.flatMap((library) => {
      const by = neededBy.get(library)
      const isWanted = named.has(library) || (wantedBy.get(library) ?? []).some((payer) => gone.has(payer))
      return by && stays.has(library) && isWanted ? [[library, [...present].filter((payer) => by.includes(payer))]] : []
    }),
  )
  return { unloaded, staying }
}

function reachedFrom(
  roots: readonly string[],
  needed: (payer: string) => string[],
  isLibrary: ReadonlySet<string>,
): Set<string> {
  const reached = new Set(roots)
  const waiting = [...roots]
  for (let payer = waiting.pop(); payer !== undefined; payer = waiting.pop())
    for (const library of needed(payer))
      if (isLibrary.has(library) && !reached.has(library)) {
        reached.add(library)
        waiting.push(library)
      }
  return reached
}
