import type { Attribution } from '../attribution/attribute.js'
import type { Reading, RequestRecord } from '../reading/reading.js'
import type { Effect } from '../rule/rule.js'
import { splitRequest } from '../glue/split-request.js'
import { inlineIdle } from '../idle/idle-bytes.js'
import { noToll, tolls, type Toll } from '../toll/toll.js'

/** What an add-on needs to work, as the site declares it. */
export interface Dependencies {
  /** Add-on → the add-ons it needs. */
  needs: Record<string, string[]>
  /** Add-ons that the site loads only because another one needs them. */
  libraries: string[]
}

export interface Prediction {
  /** What the page is spared, by payer; zero in a measure that the effect doesn't touch. */
  saved: Toll[]
  /** What comes only later, if it is asked for at all; none of it counts as saved. */
  postponed: Toll[]
  /** Ids of the requests that won't be made. */
  requests: string[]
  /** Libraries that stay because something kept needs them: library → the add-ons that need it. */
  staying: Record<string, string[]>
}

/** Effects that keep files from being put in the page. */
const UNLOADS: readonly Effect[] = ['skip', 'leave-out']

/**
 * What unloading add-ons would spare one reading: their own requests, what only those bring in, and libraries that
 * nothing kept needs. Server time and queries are spared only where the site doesn't run the add-on (`skip`). The
 * page's own HTML, which shrinks by the tags left out, is not predicted, and neither are paint times.
 */
export function predict(
  reading: Reading,
  attribution: Attribution,
  effects: ReadonlyMap<string, Effect>,
  dependencies: Dependencies,
): Prediction {
  const present = new Set([
    ...[...attribution.requests.values()].map((charge) => charge.payer),
    ...[...attribution.shares.values()].flatMap((shares) => shares.map((share) => share.payer)),
  ])
  const unloaded = new Set([...effects].filter(([, effect]) => UNLOADS.includes(effect)).map(([addon]) => addon))
  const needers = (library: string) =>
    [...present].filter(
      (addon) => addon !== library && !unloaded.has(addon) && dependencies.needs[addon]?.includes(library),
    )
  const staying: Record<string, string[]> = {}
  for (const library of dependencies.libraries.filter((l) => present.has(l))) {
    const keptFor = needers(library)
    const wanted = [...present].some((addon) => unloaded.has(addon) && dependencies.needs[addon]?.includes(library))
    if (keptFor.length > 0 && (unloaded.has(library) || wanted)) {
      staying[library] = keptFor
      unloaded.delete(library)
    } else if (keptFor.length === 0 && wanted) unloaded.add(library)
  }
  const gone = goneRequests(reading, attribution, unloaded, (payer) => payer in staying)
  const skipped = [...unloaded].filter((addon) => effects.get(addon) === 'skip')
  return {
    saved: savedTolls(reading, attribution, gone, unloaded, skipped),
    postponed: postponedTolls(reading, attribution, gone, effects, staying),
    requests: [...gone],
    staying,
  }
}

/**
 * What held add-ons load, and what only that brings in, unless it is gone altogether. Libraries stay where they are: what
 * is held will need them. Inline code stays in the page, so it is not postponed; the server works as before.
 */
function postponedTolls(
  reading: Reading,
  attribution: Attribution,
  gone: ReadonlySet<string>,
  effects: ReadonlyMap<string, Effect>,
  staying: Record<string, string[]>,
): Toll[] {
  const held = new Set([...effects].filter(([, effect]) => effect === 'hold').map(([addon]) => addon))
  if (held.size === 0) return []
  const later = goneRequests(reading, attribution, held, (payer) => payer in staying)
  for (const id of gone) later.delete(id)
  // A glued file comes when it comes; what of it is held is a part of it, and another part may be gone.
  for (const id of attribution.shares.keys()) later.delete(id)
  const staysOn = reading.requests.filter(({ id }) => !gone.has(id))
  const rest = { ...reading, requests: staysOn, inlineCode: [] }
  return savedTolls(rest, { ...attribution, inlineCode: [] }, later, held, [])
}

function goneRequests(
  reading: Reading,
  attribution: Attribution,
  unloaded: ReadonlySet<string>,
  stays: (payer: string) => boolean,
): Set<string> {
  const gone = new Set<string>()
  const goneUrls = new Set<string>()
  const add = (request: RequestRecord) => {
    gone.add(request.id)
    goneUrls.add(request.url)
  }
  const payerOf = (request: RequestRecord) => attribution.requests.get(request.id)!.payer
  for (const request of reading.requests) if (unloaded.has(payerOf(request))) add(request)
  // What is brought in can bring in more, so go round until nothing changes; each round takes at least one request.
  for (let changed = true; changed;) {
    changed = false
    for (const request of reading.requests) {
      if (gone.has(request.id) || stays(payerOf(request)) || !broughtInBy(request, gone, goneUrls)) continue
      add(request)
      changed = true
    }
  }
  return gone
}

function broughtInBy(request: RequestRecord, gone: ReadonlySet<string>, goneUrls: ReadonlySet<string>): boolean {
  if (request.redirectedFrom) return gone.has(request.redirectedFrom)
  const { initiator } = request
  if (initiator.stack?.length) return initiator.stack.some((frame) => goneUrls.has(frame.url))
  return initiator.url !== undefined && goneUrls.has(initiator.url)
}

function savedTolls(
  reading: Reading,
  attribution: Attribution,
  gone: ReadonlySet<string>,
  unloaded: ReadonlySet<string>,
  skipped: string[],
): Toll[] {
  const part: Reading = {
    ...reading,
    requests: reading.requests.filter((request) => gone.has(request.id)),
    inlineCode: [],
    mainThread: [],
    serverTiming: [],
  }
  const saved = new Map(tolls(part, attribution).map((toll) => [toll.payer, toll]))
  const of = (payer: string) => saved.get(payer) ?? saved.set(payer, noToll(payer)).get(payer)!
  // A single page's inline code goes with its add-on.
  const idle = inlineIdle(reading)
  reading.inlineCode.forEach((code, index) => {
    const payer = attribution.inlineCode[index]?.payer
    if (!payer || !unloaded.has(payer)) return
    of(payer).decodedBytes += code.bytes
    of(payer).idleBytes += idle[index]!
  })
  // Of a glued file that stays, the parts go.
  for (const request of reading.requests) {
    const shares = gone.has(request.id) ? undefined : attribution.shares.get(request.id)
    if (!shares) continue
    const use = reading.fileUse.find(({ requestId }) => requestId === request.id)
    for (const { payer, ...bytes } of splitRequest(request, shares, use))
      if (unloaded.has(payer)) {
        of(payer).transferBytes += bytes.transferBytes
        of(payer).decodedBytes += bytes.decodedBytes
        of(payer).idleBytes += bytes.idleBytes
      }
  }
  const goneUrls = new Set(part.requests.map((request) => request.url))
  reading.mainThread.forEach(({ url, ms }, index) => {
    const { payer } = attribution.mainThread[index]!
    if (unloaded.has(payer) || goneUrls.has(url)) of(payer).mainThreadMs += ms
  })
  for (const toll of tolls(reading, attribution)) {
    if (!skipped.includes(toll.payer)) continue
    const { serverMs, queries, queryMs } = toll
    Object.assign(of(toll.payer), { serverMs, queries, queryMs })
  }
  return [...saved.values()]
}
