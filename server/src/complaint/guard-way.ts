import { failsForSame, type CauseLevel, type Rule } from '@unvelt/core'
import { askPage } from '../culprit/ask-page.js'
import { mechanismFor } from '../rehearsal/common-subject.js'
import { RehearsalPageRow, RehearsalRow } from '../rehearsal/rehearsal.model.js'
import { suspectAddOns, suspectParts } from './cause-suspects.js'
import { guiltyOf, type CauseParts, type CauseWay } from './cause-way.js'
import { changedSince, onShelf, type PutBack } from './changed-since.js'
import { leavingOut, partsLevelAfter, stageOf, versionStage } from './leaving-out.js'
import { lastTwo } from './page-history.js'
import { versionsToTry } from './versions-to-try.js'

/**
 * What a guard finds on the live site, in a round: the fewest are looked for that mend it. First add-ons that are another version than
 * when it was as it should be, put back as they were then; then any that is left out, whose code may hide or break what is missed.
 */
export const guardWay: CauseWay = {
  async nextLevel(parts) {
    const { stages } = parts.search
    const last = stages.at(-1)
    if (!last) return (await putBackOf(parts)).size > 0 ? 'earlier' : 'absent'
    if (last.outcome === null) return last.level
    // Nothing is to mend any more.
    if (last.outcome === 'never') return null
    if (last.level === 'earlier' && last.outcome === 'without') return 'absent'
    const next = await partsLevelAfter(parts, last.level === 'earlier' ? 'earlier' : 'absent')
    // Which version does it without is what was found by putting it back.
    return next === 'version' && stages[0]!.outcome === 'found' && stages[0]!.level === 'earlier' ? null : next
  },

  async begin(parts, level) {
    const { tools, search, site, page } = parts
    if (level === 'version') return versionStage(await versionsToTry(tools, site, guiltyOf(search)[0]!))
    if (level === 'earlier') {
      const slugs = [...(await putBackOf(parts)).keys()]
      return { ...stageOf(level, await ranked(parts, slugs)), mends: true }
    }
    const [sweep] = await lastTwo(tools.sequelize, page.id)
    const where = { site, page, sweep: sweep!, about: search.found!, changed: await changedOf(parts) }
    const suspects =
      level === 'absent'
        ? await suspectAddOns(tools.sequelize, where)
        : await suspectParts(level as 'feature' | 'file', guiltyOf(search)[0]!, where)
    // What it is as it is, the stage before has seen.
    const tries = search.stages.length > 0 ? [{ changes: [], fails: false, readings: 1 }] : []
    return { ...stageOf(level, suspects), tries, mends: true }
  },

  async ask(parts, stage, set, readings) {
    const isOfVersions = stage.level === 'version'
    const { drafts, addOns } = isOfVersions
      ? { drafts: [], addOns: { [guiltyOf(parts.search)[0]!]: set[0]! } }
      : await changesFor(parts, stage.level, set)
    const round = await roundOf(parts)
    const found = parts.search.found!
    const answer = await askPage(
      parts.tools,
      {
        rehearsal: { ...round.rehearsal.get({ plain: true }), ...liveNow(parts) },
        view: round.view,
      },
      drafts,
      // Of versions it is asked with which it still shows; else what mends it.
      (guards) => failsForSame(guards, found) === isOfVersions,
      { readings, addOns },
    )
    return { changes: [...set], fails: answer.fails, readings: answer.readings }
  },
}

const liveNow = ({ site, live }: CauseParts) => ({
  liveRules: live.rules,
  liveVersion: live.version,
  drafts: [] as Rule[],
  mechanism: mechanismFor(site),
})

async function roundOf({ search: { roundId, pageId, lensId } }: CauseParts) {
  const [rehearsal, view] = await Promise.all([
    RehearsalRow.findByPk(roundId!),
    RehearsalPageRow.findOne({ where: { rehearsalId: roundId!, pageId, lensId } }),
  ])
  return { rehearsal: rehearsal!, view: view! }
}

async function changedOf(parts: CauseParts) {
  const { rehearsal } = await roundOf(parts)
  return changedSince(rehearsal)
}

/** What changed since and can be put back, and how. */
async function putBackOf(parts: CauseParts): Promise<Map<string, PutBack>> {
  const [changed, offered] = await Promise.all([changedOf(parts), onShelf(parts.tools.secret, parts.site)])
  const shelf = new Set(offered.map(({ slug, version }) => `${slug} ${version}`))
  return new Map(
    changed.flatMap(({ slug, from }): [string, PutBack][] =>
      from === null ? [[slug, null]] : shelf.has(`${slug} ${from}`) ? [[slug, from]] : [],
    ),
  )
}

/** Of what changed that first which the guard names. */
async function ranked({ tools, search, site, page }: CauseParts, slugs: readonly string[]) {
  const [sweep] = await lastTwo(tools.sequelize, page.id)
  const changed = slugs.map((slug) => ({ slug, name: slug, from: '', to: '' }))
  const where = { site, page, sweep: sweep!, about: search.found!, changed }
  const known = (await suspectAddOns(tools.sequelize, where)).filter(({ id }) => slugs.includes(id))
  const others = slugs.filter((slug) => !known.some(({ id }) => id === slug))
  return [...known, ...others.map((id) => ({ id, reasons: ['changed' as const] }))]
}

/** By what a set is put back or left out: by the site's shelf where it was another version, else by rules. */
async function changesFor(
  parts: CauseParts,
  level: CauseLevel,
  set: readonly string[],
): Promise<{ drafts: Rule[]; addOns: Record<string, string | null> }> {
  if (level !== 'earlier') return { drafts: await leavingOut(parts, level, set), addOns: {} }
  const putBack = await putBackOf(parts)
  const came = set.filter((slug) => (putBack.get(slug) ?? null) === null)
  const other = set.filter((slug) => !came.includes(slug))
  return {
    drafts: await leavingOut(parts, level, came),
    addOns: Object.fromEntries(other.map((slug) => [slug, putBack.get(slug)!])),
  }
}
