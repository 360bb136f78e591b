import type { Attribution } from '../attribution/attribute.js'
import { canonicalAddress, canonicalEntry } from '../attribution/canonical.js'
import type { AttributionSources } from '../attribution/sources.js'
import type { Reading } from '../reading/reading.js'
import { fileNames, GOES } from '../rewrite/stop-list.js'
import type { Effect } from '../rule/rule.js'
import type { ResolvedEffect } from '../rule/resolve.js'
import type { ServerStep } from '../span/server-steps.js'
import { noToll, type Toll } from '../toll/toll.js'
import { addedScripts } from './added.js'
import { basisOf, type BasisRequest, type PredictionBasis } from './basis.js'
import { going } from './going.js'
import { canBeHeld, canBeReordered, isCodeInReach, outOfReach, type OutOfReachBecause } from './reach.js'
import { sparedWithout } from './spared.js'
import { unloading, type Dependencies } from './unloading.js'

export type PredictedEffect = Pick<
  ResolvedEffect,
  'addon' | 'feature' | 'file' | 'setting' | 'effect' | 'until' | 'order' | 'value' | 'copy'
>

/** What else is known, where it is. */
export interface PredictWith {
  /** For what the rewriter adds to the page: the stopper, the holder. */
  sources?: AttributionSources
  /** Add-on → feature → the files it loads and the steps it takes on the server. */
  features?: Record<string, Record<string, { files: string[]; steps: string[] }>>
  /** What the server did for this page. */
  steps?: readonly ServerStep[]
  /** Addresses of outside files that there is a local copy of; without it, of all. */
  localCopies?: ReadonlySet<string>
  /** What copies that were made are lighter by than the files that they stand in for, by the hash of their content. */
  madeCopies?: Readonly<Record<string, LighterBy>>
}

/** Bytes by which a copy is lighter: over the wire, unpacked, and of those that nothing ran or applied. */
export type LighterBy = Pick<Toll, 'transferBytes' | 'decodedBytes' | 'idleBytes'>

export interface Prediction {
  /** What the page is spared, by payer; zero in a measure that the effect doesn't touch. */
  saved: Toll[]
  /** What comes only later, if it is asked for at all; none of it counts as saved. */
  postponed: Toll[]
  /** What comes instead, and what Unvelt itself puts in the page. */
  added: Toll[]
  /** Ids of the requests that won't be made. */
  requests: string[]
  /** Libraries that stay because something kept needs them: library → the add-ons that need it. */
  staying: Record<string, string[]>
  /** What would have to go, or to wait, and no mechanism reaches; it counts nowhere. */
  outOfReach: { request: string; url: string; payer: string; because: OutOfReachBecause }[]
  /** Settings, and features of which nobody knows what they load, whose effect only a rehearsal can tell. */
  toRehearse: { addon: string; setting?: string; feature?: string; value?: number }[]
}

/**
 * What effects would spare one reading. A request goes only if a mechanism reaches it (see `reach.ts`) or all that asks for it
 * goes, and only if nothing that stays asks for it too; of a file that several ask for, the cost stays with whoever is left.
 * Libraries go with the last add-on that needs them. Server time and queries are spared only where the site doesn't run the
 * add-on (`skip`), and so are parts of glued files. The page's own HTML, which shrinks by the tags left out, is not predicted,
 * and neither are paint times.
 *
 * @param effects Of whole add-ons by slug, or of whatever targets.
 */
export const predict = (
  reading: Reading,
  attribution: Attribution,
  effects: ReadonlyMap<string, Effect> | readonly PredictedEffect[],
  dependencies: Dependencies,
  known: PredictWith = {},
): Prediction => predictFrom(basisOf(reading, attribution), effects, dependencies, known)

/** The same from what decides it. */
export function predictFrom(
  basis: PredictionBasis,
  effects: ReadonlyMap<string, Effect> | readonly PredictedEffect[],
  dependencies: Dependencies,
  known: PredictWith = {},
): Prediction {
  const { requests, asked, charges, isRewritable } = basis
  const list = isMap(effects) ? [...effects].map(([addon, effect]): PredictedEffect => ({ addon, effect })) : effects
  const whole = new Map(list.filter(isWhole).map((effect) => [effect.addon, effect]))
  const ofFiles = fileEffects(list, known.features ?? {})
  const { unloaded, staying } = unloading(
    new Set(basis.payers),
    new Map([...whole].map(([addon, { effect }]) => [addon, effect])),
    dependencies,
  )

  /** The effect on one request: what is said of the file, or of its add-on. */
  const effectOn = (request: BasisRequest): PredictedEffect | undefined => {
    const { payer } = request
    const own =
      ofFiles.size > 0 ? namesOf(request).flatMap((name) => ofFiles.get(`${payer}\n${name}`) ?? [])[0] : undefined
    if (own) return own
    const effect = unloaded.get(payer)
    if (effect) return { addon: payer, effect }
    const said = whole.get(payer)
    // What was to go and stays for others' sake is left as it is.
    return said && !GOES.has(said.effect) ? said : undefined
  }
  const on = requests.map(effectOn)
  const unreachedBecause = requests.map((request, index) => {
    const effect = on[index]
    if (!effect || request.type === 'document') return null
    const { by } = asked.requests[index]!
    if (GOES.has(effect.effect)) return outOfReach(request, by, effect.effect, isRewritable)
    if (effect.effect !== 'hold') return null
    return canBeHeld(request, by) && isRewritable ? null : ('it can’t wait there' as const)
  })
  const isTaken = (index: number) =>
    on[index] !== undefined &&
    GOES.has(on[index]!.effect) &&
    requests[index]!.type !== 'document' &&
    unreachedBecause[index] === null
  const codeEffect = (inline: number) => {
    const payer = charges.inline[inline]?.payer
    return payer === undefined ? undefined : (unloaded.get(payer) ?? laterEffect(whole.get(payer)))
  }
  const isCodeGone = (inline: number) => {
    const effect = codeEffect(inline)
    return effect !== undefined && GOES.has(effect) && isCodeInReach(basis.isLongCode[inline]!, effect)
  }
  const goes = going(asked, isTaken, isCodeGone)
  const gone = { requests: goes, isCodeGone, isSkipped: (payer: string) => unloaded.get(payer) === 'skip' }
  const saved = sparedWithout(basis, gone)
  addSteps(saved, list, known)

  const waits = (index: number) => {
    const effect = on[index]
    if (effect === undefined || !isRewritable) return false
    const { by } = asked.requests[index]!
    return effect.effect === 'hold'
      ? canBeHeld(requests[index]!, by)
      : effect.effect === 'order' && canBeReordered(requests[index]!, by, effect.order ?? 'defer')
  }
  const isCodeLater = (inline: number) => isCodeGone(inline) || codeEffect(inline) === 'hold'
  const goesOrWaits = going(asked, (index) => isTaken(index) || waits(index), isCodeLater)
  const remaining = withoutCode(basis)
  const withWaiting = sparedWithout(remaining, { ...gone, requests: goesOrWaits, isCodeGone: isCodeLater })
  const postponed = difference(withWaiting, sparedWithout(remaining, gone))
  const unreached: Prediction['outOfReach'] = requests.flatMap(({ id, url, payer }, index) => {
    const because = unreachedBecause[index]
    const stays = GOES.has(on[index]?.effect ?? '') ? !goes[index] : !goesOrWaits[index]
    return because && stays ? [{ request: id, url, payer, because }] : []
  })
  const replaced = localCopies(basis, on, goes, known)
  return {
    saved: sumByPayer([...saved, ...replaced.map(({ file }) => file)]),
    postponed,
    added: [...replaced.map(({ copy }) => copy), ...addedScripts(list, known.sources, basis.pageUrl)],
    requests: requests.flatMap(({ id }, index) => (goes[index] ? [id] : [])),
    staying,
    outOfReach: [...unreached, ...unreachedParts(basis, unloaded)],
    toRehearse: list.flatMap((effect) => rehearsed(effect, known.features ?? {})),
  }
}

function rehearsed(
  { addon, setting, feature, value, effect }: PredictedEffect,
  features: NonNullable<PredictWith['features']>,
): Prediction['toRehearse'] {
  if (effect === 'set' && setting !== undefined) return [{ addon, setting, ...(value !== undefined && { value }) }]
  if (feature === undefined || effect === 'keep') return []
  const ofAddOn = own(features, addon)
  return ofAddOn && own(ofAddOn, feature) ? [] : [{ addon, feature }]
}

const isMap = (effects: object): effects is ReadonlyMap<string, Effect> => effects instanceof Map
const isWhole = ({ feature, file, setting }: PredictedEffect) =>
  feature === undefined && file === undefined && setting === undefined
const laterEffect = (said: PredictedEffect | undefined) => (said?.effect === 'hold' ? said.effect : undefined)

/** `payer\nname of a file` → what is said of it, by itself or by a feature that it belongs to. */
function fileEffects(
  list: readonly PredictedEffect[],
  features: NonNullable<PredictWith['features']>,
): Map<string, PredictedEffect> {
  const effects = new Map<string, PredictedEffect>()
  for (const effect of list) {
    const ofAddOn = effect.feature === undefined ? undefined : own(features, effect.addon)
    const files = ofAddOn ? (own(ofAddOn, effect.feature!)?.files ?? []) : []
    for (const file of files) effects.set(`${effect.addon}\n${canonicalEntry(file)}`, effect)
  }
  for (const effect of list)
    if (effect.file !== undefined) effects.set(`${effect.addon}\n${canonicalEntry(effect.file)}`, effect)
  return effects
}

const own = <T>(record: Record<string, T>, key: string): T | undefined =>
  Object.hasOwn(record, key) ? record[key] : undefined

/** Whose the host is doesn't matter here: the payer is known already. */
const namesOf = ({ url }: BasisRequest): string[] =>
  URL.canParse(url) ? fileNames(new URL(canonicalAddress(new URL(url))), true) : []

/** What a feature's steps cost on the server, where the site doesn't run it. */
function addSteps(saved: Toll[], list: readonly PredictedEffect[], { features = {}, steps = [] }: PredictWith): void {
  for (const { addon, feature, effect } of list) {
    if (feature === undefined || effect !== 'skip') continue
    const ofAddOn = own(features, addon)
    const names = new Set((ofAddOn && own(ofAddOn, feature)?.steps) ?? [])
    const toll = noToll(addon)
    for (const step of steps)
      if (step.addon === addon && names.has(step.step)) {
        toll.serverMs += step.selfMs
        toll.queries += step.queries
        toll.queryMs += step.queryMs
      }
    if (toll.serverMs + toll.queries > 0) saved.push(toll)
  }
}

/** Parts of glued files that only the site could glue without them. */
function unreachedParts(
  { requests, charges }: PredictionBasis,
  unloaded: ReadonlyMap<string, Effect>,
): Prediction['outOfReach'] {
  return requests.flatMap(({ id, url, isMapped }, index) => {
    const payers = new Set(charges.requests[index]!.slice(1).map(({ payer }) => payer))
    return [...payers].flatMap((payer) => {
      const effect = unloaded.get(payer)
      if (effect === undefined || (effect === 'skip' && !isMapped)) return []
      return [{ request: id, url, payer, because: 'it is a part of a glued file' as const }]
    })
  })
}

/** Files that come from the site's own host instead, with what comes: as many bytes, where nobody can know beforehand, or a lighter copy. */
function localCopies(
  { requests, asked, charges }: PredictionBasis,
  on: readonly (PredictedEffect | undefined)[],
  goes: readonly boolean[],
  { localCopies: copies, madeCopies = {} }: PredictWith,
): { file: Toll; copy: Toll }[] {
  return requests.flatMap(({ url }, index) => {
    const effect = on[index]
    if (effect?.effect !== 'local' || goes[index] || asked.requests[index]!.by !== 'html') return []
    const content = effect.copy?.content
    const less = content === undefined ? undefined : own(madeCopies, content)
    if (content !== undefined ? !less : copies && !copies.has(url)) return []
    return copiesOf(charges.requests[index]!, less)
  })
}

/** Of a glued file the parts are made lighter one after another, all of them together by no more than the copy is. */
function copiesOf(tolls: readonly Toll[], less: LighterBy | undefined): { file: Toll; copy: Toll }[] {
  if (!less) return tolls.map((file) => ({ file, copy: file }))
  const left = { ...less }
  return tolls.map((file) => {
    const copy = { ...file }
    for (const measure of ['transferBytes', 'decodedBytes', 'idleBytes'] as const) {
      // From a cache, nothing comes over the wire that could be spared.
      const by = Math.min(file[measure], left[measure])
      copy[measure] -= by
      left[measure] -= by
    }
    return { file, copy }
  })
}

/** Inline code stays in the page while it waits. */
const withoutCode = (basis: PredictionBasis): PredictionBasis => ({
  ...basis,
  charges: { ...basis.charges, inline: basis.charges.inline.map(() => null) },
})

function difference(all: Toll[], part: Toll[]): Toll[] {
  const negative = part.map((toll) =>
    Object.fromEntries(Object.entries(toll).map(([name, value]) => [name, typeof value === 'number' ? -value : value])),
  ) as Toll[]
  return sumByPayer([...all, ...negative]).filter(isSomething)
}

function sumByPayer(list: readonly Toll[]): Toll[] {
  const sums = new Map<string, Toll>()
  for (const { payer, ...figures } of list) {
    const sum = sums.get(payer) ?? noToll(payer)
    for (const measure of Object.keys(figures) as (keyof typeof figures)[]) sum[measure] += figures[measure]
    sums.set(payer, sum)
  }
  return [...sums.values()]
}

const isSomething = ({ payer: _, ...figures }: Toll) => Object.values(figures).some((figure) => figure !== 0)

export type { Dependencies } from './unloading.js'
