import { complainsOf, type CauseStage, type Complaint, type GuardLook } from '@unvelt/core'
import { reachOf } from '../reach/reach.js'
import { commonOf, mechanismFor } from '../rehearsal/common-subject.js'
import { readRehearsed } from '../rehearsal/read-rehearsed.js'
import { DraftsAtSite } from '../site-http/drafts-at-site.js'
import { signIn } from '../site-http/sign-in.js'
import { suspectAddOns, suspectParts } from './cause-suspects.js'
import { guiltyOf, SURE, type CauseParts, type CauseWay } from './cause-way.js'
import type { CauseSearchRow } from './cause.model.js'
import { leavingOut, partsLevelAfter, stageOf, versionStage } from './leaving-out.js'
import { changedBetween, lastTwo } from './page-history.js'
import { versionsToTry } from './versions-to-try.js'

/** What a page complains of: the fewest are looked for without any of which it does not. */
export const complaintWay: CauseWay = {
  async nextLevel(parts) {
    return parts.search.stages.length === 0 ? 'addon' : partsLevelAfter(parts, 'addon')
  },

  async begin({ tools, search, site, page }, level) {
    if (level === 'version') return versionStage(await versionsToTry(tools, site, guiltyOf(search)[0]!))
    const [sweep, earlier] = await lastTwo(tools.sequelize, page.id)
    const where = {
      site,
      page,
      sweep: sweep!,
      about: { gone: [], came: [search.text] },
      changed: changedBetween(earlier?.inventory ?? [], sweep!.inventory),
    }
    if (level === 'addon') return stageOf(level, await suspectAddOns(tools.sequelize, where))
    const suspects = await suspectParts(level as 'feature' | 'file', guiltyOf(search)[0]!, where)
    // That the page complains with all of it, and not without any, is known from the stage before.
    const tries = [{ changes: suspects.map((one) => one.id), fails: true, readings: SURE }]
    return { ...stageOf(level, suspects), tries }
  },

  ask: readWith,
}

/** Reads the page with just some of the suspects until it does not complain, or has complained so often. */
async function readWith(
  parts: CauseParts,
  { level, suspects }: CauseStage,
  present: readonly string[],
  readings: number,
): Promise<CauseStage['tries'][number]> {
  const { tools, search, site, page, lens, live } = parts
  const isOfVersions = level === 'version'
  const absent = suspects.flatMap(({ id }) => (present.includes(id) ? [] : [id]))
  const drafts = isOfVersions ? [] : await leavingOut(parts, level, absent)
  const common = await commonOf(
    tools,
    { siteId: site.id, liveRules: live.rules, liveVersion: live.version, drafts, mechanism: mechanismFor(site) },
    drafts,
  )
  const cookie = await signIn(site.address, lens.settings, tools.secret, reachOf(site))
  const subject = { ...common, page, lens, cookie }
  const addOns = { [guiltyOf(search)[0] ?? '']: present[0]! }
  const atSite = new DraftsAtSite(isOfVersions ? { ...common, addOns } : common, { mechanism: mechanismFor(site) })
  try {
    for (let turn = 1; ; turn++) {
      const { reading } = await atSite.reading((name) =>
        readRehearsed(tools, subject, { side: 'with', looks: true, turn, steps: false }, name),
      )
      const complains = reading.look !== null && complainsOf(reading.look, complaintOf(search))
      if (complains) await learnPlace(search, reading.look!)
      if (!complains || turn >= readings) return { changes: [...present], fails: complains, readings: turn }
    }
  } finally {
    await atSite.forget()
  }
}

async function learnPlace(search: CauseSearchRow, { errorPlaces = {} }: GuardLook): Promise<void> {
  if (search.place !== null && search.place !== undefined) return
  const known = Object.entries(errorPlaces).find(([text]) =>
    complainsOf({ errors: [text], failed: [] }, complaintOf(search)),
  )
  if (known) await search.update({ place: known[1] })
}

const complaintOf = ({ kind, text }: CauseSearchRow): Complaint => ({ kind: kind as Complaint['kind'], text })
