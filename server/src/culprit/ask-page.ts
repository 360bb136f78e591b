import { isSteady, type GuardLook, type GuardResult, type Rule } from '@unvelt/core'
import { LensRow } from '../lens/lens.model.js'
import { PageRow } from '../page/page.model.js'
import { reachOf } from '../reach/reach.js'
import { commonOf, mechanismFor } from '../rehearsal/common-subject.js'
import { judgeLooks, looksOf } from '../rehearsal/judge-page.js'
import { keptPictures } from '../rehearsal/picture-store.js'
import { readRehearsed } from '../rehearsal/read-rehearsed.js'
import type { RehearsalPageRow, RehearsalRow, RehearsedReading } from '../rehearsal/rehearsal.model.js'
import { DraftsAtSite } from '../site-http/drafts-at-site.js'
import { signIn } from '../site-http/sign-in.js'
import type { WorkerTools } from '../worker/worker-tools.js'

/** What fails is read so often before it is sure; once is enough to see that something holds. */
const SURE = { steady: 2, moving: 3 }

/** How often a failure must be seen on a page, by how much its readings without drafts differ among each other. */
export const sureOn = (view: RehearsalPageRow): number => (isSteady(looksOf(view.readings)) ? SURE.steady : SURE.moving)

export interface PageAnswer {
  fails: boolean
  readings: number
  guards: GuardResult[]
  /** Of each reading. */
  figures: RehearsedReading['figures'][]
}

/** Reads a page of a rehearsal under some rules; what it is without them is known from the rehearsal. */
export async function askPage(
  tools: WorkerTools,
  {
    rehearsal,
    view,
  }: {
    rehearsal: Pick<RehearsalRow, 'siteId' | 'liveRules' | 'liveVersion' | 'drafts' | 'mechanism'>
    view: RehearsalPageRow
  },
  drafts: readonly Rule[],
  fails: (guards: GuardResult[]) => boolean,
  {
    readings = sureOn(view),
    addOns,
  }: {
    /** It is read until it does not fail, or has failed so often. */
    readings?: number
    /** Other versions that the site puts in the place of its add-ons, or null for none. */
    addOns?: Readonly<Record<string, string | null>>
  } = {},
): Promise<PageAnswer> {
  const common = await commonOf(tools, rehearsal, drafts)
  const [page, lens] = await Promise.all([PageRow.findByPk(view.pageId), LensRow.findByPk(view.lensId)])
  const subject = {
    ...common,
    page: page!,
    lens: lens!,
    cookie: await signIn(common.site.address, lens!.settings, tools.secret, reachOf(common.site)),
  }
  const kept = await keptPictures(tools.sequelize, view)
  const [without] = looksOf(view.readings)
  const pictures = view.readings.flatMap(({ side, turn }) => (side === 'without' ? (kept.get(turn) ?? []) : []))
  const seen: { looks: GuardLook[]; pictures: Buffer[]; figures: PageAnswer['figures'] } = {
    looks: [],
    pictures: [],
    figures: [],
  }
  const atSite = new DraftsAtSite({ ...common, addOns }, { mechanism: mechanismFor(common.site) })
  try {
    for (let n = 1; ; n++) {
      const { reading, pictures: taken } = await atSite.reading((name) =>
        readRehearsed(tools, subject, { side: 'with', looks: true, turn: n }, name),
      )
      if (reading.look) seen.looks.push(reading.look)
      seen.pictures.push(...taken.map(({ jpeg }) => jpeg))
      seen.figures.push(reading.figures)
      const { guards } = await judgeLooks([without, seen.looks], [pictures, seen.pictures])
      const isBroken = fails(guards)
      if (!isBroken || n >= readings) return { fails: isBroken, readings: n, guards, figures: seen.figures }
    }
  } finally {
    await atSite.forget()
  }
}
