import type { Browser } from 'playwright-core'
import { QueryTypes, type Sequelize } from 'sequelize'
import { stepsFor, type ElementWriter, type Reading } from '@unvelt/core'
import { tellSweep } from '../events/tell.js'
import { withoutSiteName } from '../from-outside/site-name.js'
import { LensRow } from '../lens/lens.model.js'
import { keepPack } from '../ledger/pack-store.js'
import { PageRow } from '../page/page.model.js'
import type { ReadPageJob } from '../queue/queue.js'
import { storePicture } from '../reading/picture-store.js'
import { hasReading, isRead, storeFailure, storeReading, storeTolls } from '../reading/reading-store.js'
import { reachOf } from '../reach/reach.js'
import { open } from '../site/secret-box.js'
import { SiteRow } from '../site/site.model.js'
import { SweepRow } from '../sweep/sweep.model.js'
import { askMarked } from '../site-http/ask-marked.js'
import { failureSentence } from '../reading/failure.js'
import { newTrace } from '../trace/trace-store.js'
import { learnGlued } from './learn-glued.js'
import { learnSnippets } from './learn-snippets.js'
import { measuringHeader } from '../site-http/measuring-header.js'
import { readyPage } from '../browser/read-page.js'
import type { ReadingOrder } from '../browser/reading-order.js'
import type { Picture } from '../browser/take-picture.js'
import type { Series, Turns } from './turns.js'
import { signIn } from '../site-http/sign-in.js'

export interface WorkerTools {
  sequelize: Sequelize
  secret: Buffer
  /** A browser that is alive; a new one when the last has gone. */
  browser(): Promise<Browser>
  turns: Turns
  /** True once the worker is to end: what fails from then on is nobody's failure. */
  stopping(): boolean
}

/**
 * Reads one page of a sweep: its repeats one after the other, and within a repeat its variants in turn, so that what
 * drifts meanwhile drifts for all of them. What has been read already is passed over, so the job can run again.
 */
export async function runPageJob(tools: WorkerTools, job: ReadPageJob): Promise<void> {
  const series = tools.turns.newSeries()
  try {
    await readRepeats(tools, job, series)
  } finally {
    series.end()
  }
}

async function readRepeats(tools: WorkerTools, { sweepId, pageId }: ReadPageJob, series: Series): Promise<void> {
  const sweep = await SweepRow.findByPk(sweepId)
  const page = await PageRow.findByPk(pageId)
  if (!sweep || !page || sweep.status !== 'running') return
  const site = (await SiteRow.findByPk(sweep.siteId))!
  const lens = (await LensRow.findByPk(sweep.lensId!))!
  const key = site.connectorKey === null ? null : open(site.connectorKey, tools.secret)
  const tell = () => tellSweep(tools.sequelize, { siteId: site.id, sweepId })
  await setState(tools.sequelize, sweepId, pageId, 'reading')
  await tell()
  let cookie: string | null = null
  const overtaken = new Set<number>()
  for (let repeat = 1; repeat <= sweep.repeats; repeat++) {
    for (const variant of sweep.variants) {
      const place = { sweepId, pageId, variant: variant.name, repeat }
      if (await isRead(place)) continue
      if (!(await isRunning(sweepId))) return
      const url = new URL(page.path, site.address)
      try {
        // Signed in once for all readings of the page, and only when there is one to take.
        cookie ??= await tools.turns.beside(() => signIn(site.address, lens.settings, tools.secret, reachOf(site)))
        let picture: Picture | null = null
        const marks: { told?: Promise<ElementWriter[] | null> } = {}
        const asksMarks = key !== null && site.connector?.measuring?.marks
        // The first one that succeeds looks at everything; those after it are clean, and give the times.
        const first = !(await hasReading({ sweepId, pageId, variant: variant.name }))
        // A survey takes its times from the clean ones, so the first one need not be alone; where no other follows, it must.
        const timed = !first || sweep.purpose !== 'survey' || repeat === sweep.repeats
        const order: ReadingOrder = {
          cookie,
          clean: !first,
          untimed: !timed,
          // Steps take as long as the load, so one repeat takes them.
          // Never in the back office, nor as somebody who has signed in: what is pressed there may change the site.
          ...(sweep.purpose === 'survey' &&
            first &&
            page.area === 'public' &&
            lens.settings.visitor.kind === 'signed-out' && {
              steps: stepsFor(page.kind, site.steps ?? undefined),
              onPicture: (taken: Picture) => void (picture = taken),
              // Nothing is timed any more, and the steps wait a good deal.
              ...(asksMarks && {
                onLoaded: () => {
                  const ask = (browser: Browser) => askMarked(browser, order, key, variant.rules)
                  marks.told = tools.browser().then(ask, () => null)
                },
              }),
            }),
          url: url.href,
          lens: lens.settings,
          reach: reachOf(site),
          ...(key && {
            measuringHeader: () =>
              measuringHeader(url, key, { rules: variant.rules, cache: 'bypass' }, Date.now() / 1000),
            ...(timed && { trace: newTrace(site.id) }),
          }),
        }
        // What gathers waits for the end of all series, so it can't be in one.
        if (!timed) series.end()
        const reading = await readWithLivingBrowser(tools, order, timed)
        series.begin()
        await tools.turns.beside(async () => {
          const told = await marks.told
          if (told) reading.elementWriters = told
          await learnGlued(tools.sequelize, site, sweep, reading, key)
          if (sweep.purpose === 'survey')
            for (const other of await learnSnippets(tools.sequelize, sweep, pageId, reading)) overtaken.add(other)
          if (!site.connector) await learnTitle(site, page, reading)
          await storeReading(place, reading, sweep.sources, { timed })
          if (picture) await storePicture(tools.sequelize, place, picture)
        })
      } catch (error) {
        if (tools.stopping()) throw error
        await storeFailure(place, failureSentence(error))
      }
      await tell()
    }
  }
  series.end()
  // Patterns may have changed meanwhile.
  await sweep.reload()
  await tools.turns.beside(async () => {
    let read = true
    for (const { name: variant } of sweep.variants)
      read = (await storeTolls(tools.sequelize, site.id, { sweepId, pageId, variant }, sweep.sources)) && read
    await setState(tools.sequelize, sweepId, pageId, read ? 'done' : 'failed')
    for (const other of overtaken) await workOutAnew(tools.sequelize, sweep, other)
    await finishSweep(tools.sequelize, sweepId)
    await tell()
  })
}

/** A page of the sweep that was done before something was learnt that changes who pays on it. */
async function workOutAnew(sequelize: Sequelize, sweep: SweepRow, pageId: number): Promise<void> {
  const done = await sequelize.query(
    `select 1 from sweep_page where sweep_id = :sweep and page_id = :pageId and state = 'done'`,
    { replacements: { sweep: sweep.id, pageId }, type: QueryTypes.SELECT },
  )
  if (done.length === 0) return
  for (const { name: variant } of sweep.variants)
    await storeTolls(sequelize, sweep.siteId, { sweepId: sweep.id, pageId, variant }, sweep.sources)
}

/** A page that no connector names is named by its own title. */
async function learnTitle({ name }: SiteRow, page: PageRow, { title }: Reading): Promise<void> {
  const named = withoutSiteName(title.trim(), name).slice(0, 200)
  if (named !== '' && named !== page.title) await page.update({ title: named })
}

/** How often a reading is begun whose browser goes away: it may be the page that kills it. */
const MOST_BROWSERS = 3

/** A browser that was killed is nobody's failure but its own, so the reading is begun again with another one. */
async function readWithLivingBrowser(tools: WorkerTools, order: ReadingOrder, timed: boolean): Promise<Reading> {
  for (let attempt = 1; ; attempt++) {
    const browser = await tools.browser()
    try {
      // A page is opened beside others, and only its load has the worker to itself.
      if (!timed) return await tools.turns.gathered(async () => (await readyPage(browser, order)).read())
      const ready = await tools.turns.beside(() => readyPage(browser, order))
      return await tools.turns.alone(() => ready.read())
    } catch (error) {
      if (browser.isConnected() || attempt === MOST_BROWSERS || tools.stopping()) throw error
    }
  }
}

async function isRunning(sweepId: number): Promise<boolean> {
  return (await SweepRow.count({ where: { id: sweepId, status: 'running' } })) > 0
}

async function setState(sequelize: Sequelize, sweepId: number, pageId: number, state: string): Promise<void> {
  await sequelize.query('update sweep_page set state = :state where sweep_id = :sweepId and page_id = :pageId', {
    replacements: { sweepId, pageId, state },
  })
}

/** The worker that ends the last page ends the sweep, and packs its ledger for those who look at it. */
async function finishSweep(sequelize: Sequelize, sweepId: number): Promise<void> {
  const ended = await sequelize.query<{ id: number }>(
    `update sweep set status = 'done', finished_at = now() where id = :sweepId and status = 'running'
     and not exists (select 1 from sweep_page where sweep_id = :sweepId and state in ('waiting', 'reading')) returning id`,
    { replacements: { sweepId }, type: QueryTypes.SELECT },
  )
  if (ended.length > 0) await keepPack(sequelize, sweepId)
}
