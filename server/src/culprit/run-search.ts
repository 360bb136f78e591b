import { failsForSame, isSteady, type GuardLook } from '@unvelt/core'
import { tellRehearsal } from '../events/tell.js'
import { LensRow } from '../lens/lens.model.js'
import { PageRow } from '../page/page.model.js'
import type { Hold } from '../queue/job.js'
import type { FindCulpritJob } from '../queue/queue.js'
import { reachOf } from '../reach/reach.js'
import { commonOf } from '../rehearsal/common-subject.js'
import { DraftsAtSite } from '../site-http/drafts-at-site.js'
import { judgeLooks, looksOf } from '../rehearsal/judge-page.js'
import { keptPictures } from '../rehearsal/picture-store.js'
import { readRehearsed } from '../rehearsal/read-rehearsed.js'
import { RehearsalPageRow, RehearsalRow } from '../rehearsal/rehearsal.model.js'
import { signIn } from '../site-http/sign-in.js'
import type { WorkerTools } from '../worker/worker-tools.js'
import { nextQuestion } from './culprit-view.js'
import { CulpritSearchRow } from './culprit.model.js'

/** What fails is read so often before it counts; once is enough to see that something holds. */
const SURE = { steady: 2, moving: 4 }
/** A search that asks more than this would take longer than going through the drafts by hand. */
const MOST_TRIES = 200

interface Parts {
  tools: WorkerTools
  search: CulpritSearchRow
  rehearsal: RehearsalRow
  view: RehearsalPageRow
}

/**
 * Asks one set of drafts after the other whether it breaks the guard, until the fewest are known that do. What the page is without
 * drafts is known from the rehearsal. @returns false where it was stopped before its end.
 */
export async function runSearch(tools: WorkerTools, { id }: FindCulpritJob, hold: Hold): Promise<boolean> {
  const search = await CulpritSearchRow.findByPk(id)
  if (search?.state !== 'running') return false
  const [rehearsal, view] = await Promise.all([
    RehearsalRow.findByPk(search.rehearsalId),
    RehearsalPageRow.findOne({
      where: { rehearsalId: search.rehearsalId, pageId: search.pageId, lensId: search.lensId },
    }),
  ])
  const parts = { tools, search, rehearsal: rehearsal!, view: view! }
  for (;;) {
    const next = nextQuestion(search)
    if ('found' in next) {
      hold.check()
      await search.update({ culprits: next.found })
      return true
    }
    if (search.tries.length >= MOST_TRIES) throw new Error(`No answer after ${MOST_TRIES} questions.`)
    await tell(parts)
    const answer = await ask(parts, next.ask)
    hold.check()
    await search.reload()
    if (search.state !== 'running') return false
    await search.update({ tries: [...search.tries, { changes: next.ask, ...answer }] })
    await hold.progressed()
  }
}

const tell = ({ tools, rehearsal }: Pick<Parts, 'tools' | 'rehearsal'>) =>
  tellRehearsal(tools.sequelize, { siteId: rehearsal.siteId, rehearsalId: rehearsal.id })

/** Whether the page fails in the same way with just these drafts. */
async function ask(
  { tools, search, rehearsal, view }: Parts,
  changes: string[],
): Promise<{ fails: boolean; readings: number }> {
  const chosen = new Set(changes)
  const common = await commonOf(
    tools,
    rehearsal,
    rehearsal.drafts.filter(({ id }) => chosen.has(id)),
  )
  const [page, lens] = await Promise.all([PageRow.findByPk(search.pageId), LensRow.findByPk(search.lensId)])
  const subject = {
    ...common,
    page: page!,
    lens: lens!,
    cookie: await signIn(common.site.address, lens!.settings, tools.secret, reachOf(common.site)),
  }
  const kept = await keptPictures(tools.sequelize, view)
  const [without] = looksOf(view.readings)
  const pictures = view.readings.flatMap(({ side, turn }) => (side === 'without' ? (kept.get(turn) ?? []) : []))
  const sure = isSteady(looksOf(view.readings)) ? SURE.steady : SURE.moving
  const seen: { looks: GuardLook[]; pictures: Buffer[] } = { looks: [], pictures: [] }
  const atSite = new DraftsAtSite(common, rehearsal)
  try {
    for (let n = 1; ; n++) {
      const { reading, picture } = await atSite.reading((name) =>
        readRehearsed(tools, subject, { side: 'with', looks: true, turn: n }, name),
      )
      if (reading.look) seen.looks.push(reading.look)
      if (picture) seen.pictures.push(picture.jpeg)
      const { guards } = await judgeLooks([without, seen.looks], [pictures, seen.pictures])
      const fails = failsForSame(guards, search.found)
      if (!fails || n >= sure) return { fails, readings: n }
    }
  } finally {
    await atSite.forget()
  }
}
