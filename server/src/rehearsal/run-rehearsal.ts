import pMap from 'p-map'
import type { Sequelize } from 'sequelize'
import { isSteady } from '@unvelt/core'
import { searchesFor } from '../culprit/searches-for.js'
import { tellRehearsal } from '../events/tell.js'
import { LensRow } from '../lens/lens.model.js'
import { PageRow } from '../page/page.model.js'
import type { Hold } from '../queue/job.js'
import { ownTrouble } from '../queue/own-trouble.js'
import type { RehearseJob } from '../queue/queue.js'
import { reachOf } from '../reach/reach.js'
import { failureSentence } from '../reading/failure.js'
import { signIn } from '../site-http/sign-in.js'
import type { WorkerTools } from '../worker/worker-tools.js'
import { commonOf, type Common } from './common-subject.js'
import { DraftsAtSite } from '../site-http/drafts-at-site.js'
import { judgePage, looksOf } from './judge-page.js'
import { keepPicture, type RehearsedPlace } from './picture-store.js'
import { readRehearsed, type Subject } from './read-rehearsed.js'
import { AGAIN, ENOUGH_WHERE_STEADY, turnsOf } from './rehearsal-plan.js'
import { isAsItShouldBe } from './live-round.js'
import { ROUND_LOOKS } from './live-round-plan.js'
import { RehearsalPageRow, RehearsalRow, type RehearsedReading } from './rehearsal.model.js'

const AT_A_TIME = 4

/** Reads the pages of a rehearsal, several side by side where no times are told, from where it was broken off. */
export async function runRehearsal(tools: WorkerTools, { id }: RehearseJob, hold: Hold): Promise<void> {
  const row = await RehearsalRow.findByPk(id)
  if (!row || row.state !== 'running') return
  const common = await commonOf(tools, row)
  const atSite = new DraftsAtSite(common, row)
  const pages = await RehearsalPageRow.findAll({
    where: { rehearsalId: id, state: 'waiting' },
    order: ['position', 'lensId'],
  })
  try {
    // All of them are waited for: a page that went on behind the end of its job would be read by two.
    const trouble: unknown[] = []
    await pMap(
      pages,
      async (page) => {
        if (trouble.length > 0) return
        const goesOn = async () => trouble.length === 0 && (await isRunning(id))
        await rehearsePage(tools, common, row, page, { atSite, hold, goesOn }).catch((error) => trouble.push(error))
      },
      // What gives times has the machine to itself; what only guards look at waits a good deal, and may overlap.
      { concurrency: row.mode === 'times' ? 1 : AT_A_TIME },
    )
    if (trouble.length > 0) throw trouble[0]
    if (!(await isRunning(id))) return
    hold.check()
    // Whoever throws out what breaks a guard looks for it before the rehearsal counts as done, so that no kill comes between.
    if (row.best && row.deploymentId === null) await searchesFor(tools.sequelize, row)
    if (row.isRound) await row.update({ sound: await isAsItShouldBe(row) })
    await endRehearsal(tools.sequelize, id, 'done', null)
  } finally {
    await atSite.forget()
  }
}

async function rehearsePage(
  tools: WorkerTools,
  common: Common,
  row: RehearsalRow,
  rehearsed: RehearsalPageRow,
  { atSite, hold, goesOn }: { atSite: DraftsAtSite; hold: Hold; goesOn: () => Promise<boolean> },
): Promise<void> {
  if (!(await goesOn())) return
  const { sequelize } = tools
  const place = { rehearsalId: row.id, pageId: rehearsed.pageId, lensId: rehearsed.lensId }
  const [page, lens] = await Promise.all([PageRow.findByPk(place.pageId), LensRow.findByPk(place.lensId)])
  try {
    const subject: Subject = {
      ...common,
      page: page!,
      lens: lens!,
      cookie: await signIn(common.site.address, lens!.settings, tools.secret, reachOf(common.site)),
    }
    for (let next = await nextTurn(sequelize, place, row, rehearsed); next;) {
      if (!(await goesOn())) return
      const turn = rehearsed.readings.length
      const wish = { ...next, turn }
      const { reading, pictures, failedSteps } = await atSite.reading((name) =>
        readRehearsed(tools, subject, wish, name),
      )
      hold.check()
      for (const [moment, picture] of pictures.entries()) await keepPicture(sequelize, place, turn, picture, { moment })
      for (const [step, view] of failedSteps) await keepPicture(sequelize, place, turn, view, { step })
      await rehearsed.update({ readings: [...rehearsed.readings, reading] })
      await hold.progressed()
      await tellRehearsal(sequelize, { siteId: row.siteId, rehearsalId: row.id })
      next = await nextTurn(sequelize, place, row, rehearsed)
    }
    hold.check()
    await rehearsed.update({ ...(await judgePage(sequelize, place, rehearsed.readings)), state: 'done' })
  } catch (error) {
    if (tools.stopping() || ownTrouble(error)) throw error
    hold.check()
    await rehearsed.update({ state: 'failed', failure: failureSentence(error) })
  }
  await hold.progressed()
  await tellRehearsal(sequelize, { siteId: row.siteId, rehearsalId: row.id })
}

/** What is to be read next of a page. As long as something fails that may do so by chance, it is looked at again. */
async function nextTurn(
  sequelize: Sequelize,
  place: RehearsedPlace,
  { mode, isRound }: RehearsalRow,
  { readings }: RehearsalPageRow,
): Promise<{ side: 'without' | 'with'; looks: boolean } | undefined> {
  if (isRound) return nextOfRound(sequelize, place, readings)
  const turns = turnsOf(mode)
  if (readings.length < turns.length) return turns[readings.length]
  const again = readings.length - turns.length
  const side = AGAIN[again]
  if (!side || (again >= ENOUGH_WHERE_STEADY && isSteady(looksOf(readings)))) return undefined
  const { guards } = await judgePage(sequelize, place, readings)
  return guards.some(({ outcome }) => outcome === 'fails') ? { side, looks: true } : undefined
}

/** A round reads the live page alone: what it is held against was read by the round before. */
async function nextOfRound(
  sequelize: Sequelize,
  place: RehearsedPlace,
  readings: readonly RehearsedReading[],
): Promise<{ side: 'with'; looks: true } | undefined> {
  const next = { side: 'with', looks: true } as const
  const now = readings.filter(({ side }) => side === 'with').length
  if (now < ROUND_LOOKS.always) return next
  if (now >= ROUND_LOOKS.whileFailing) return undefined
  const { guards } = await judgePage(sequelize, place, readings)
  return guards.some(({ outcome }) => outcome === 'fails') ? next : undefined
}

const isRunning = async (id: number): Promise<boolean> =>
  (await RehearsalRow.count({ where: { id, state: 'running' } })) > 0

export async function endRehearsal(
  sequelize: Sequelize,
  id: number,
  state: 'done' | 'stopped' | 'failed',
  failure: string | null,
): Promise<void> {
  const row = await RehearsalRow.findByPk(id)
  if (!row || row.state !== 'running') return
  await row.update({ state, failure, finishedAt: new Date() })
  await tellRehearsal(sequelize, { siteId: row.siteId, rehearsalId: id })
}
