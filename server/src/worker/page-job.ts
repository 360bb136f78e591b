import { QueryTypes, type Sequelize } from 'sequelize'
import { sendingNothing, stepsFor, type ElementWriter, type Reading } from '@unvelt/core'
import type { ReadingOrder } from '../browser/reading-order.js'
import type { Picture } from '../browser/take-picture.js'
import { withoutSiteName } from '../from-outside/site-name.js'
import { complaintsOfSweep } from '../complaint/complaints-of-sweep.js'
import { thinOld } from '../storage/thin-old.js'
import { LensRow } from '../lens/lens.model.js'
import { outsideOfSweep } from '../outside/outside-of-sweep.js'
import { PageRow } from '../page/page.model.js'
import type { Hold } from '../queue/job.js'
import type { ReadPageJob } from '../queue/queue.js'
import { knowByLook } from '../promise/known-by-look.js'
import { ownTrouble } from '../queue/own-trouble.js'
import { reachOf } from '../reach/reach.js'
import { failureSentence } from '../reading/failure.js'
import { storePicture } from '../reading/picture-store.js'
import {
  countReadings,
  hasReading,
  isRead,
  storeFailure,
  storeReading,
  storeTolls,
  type ReadingPlace,
} from '../reading/reading-store.js'
import { takeSpans } from '../reading/take-spans.js'
import { askMarked } from '../browser/ask-marked.js'
import { measuringHeader } from '../site-http/measuring-header.js'
import { signIn } from '../site-http/sign-in.js'
import { siteAddress } from '../site-http/site-address.js'
import { open } from '../site-http/secret-box.js'
import { SiteRow } from '../site/site.model.js'
import { inRounds, isCompared, looksFirst, SweepRow, type Variant } from '../sweep/sweep.model.js'
import { shownSweep } from '../sweep/shown-sweep.js'
import { finishSweep, isPageOpen, isRunning, setPageState, tellOf } from '../sweep/sweep-progress.js'
import { newTrace } from '../trace/trace-store.js'
import { PageCopy } from './page-copy.js'
import { learnGlued } from './learn-glued.js'
import { learnSnippets } from './learn-snippets.js'
import { readInLivingBrowser } from './read-in-living-browser.js'
import type { Series } from './turns.js'
import { VariantReader } from './variant-reader.js'
import type { WorkerTools } from './worker-tools.js'

/** What all readings of one page in one sweep have in common. */
interface Subject {
  sweep: SweepRow
  page: PageRow
  site: SiteRow
  lens: LensRow
  /** Of the site's connector. */
  key: string | null
}

interface Taken {
  reading: Reading
  picture: Picture | null
  marks: Promise<ElementWriter[] | null> | undefined
}

/**
 * Reads one page of a sweep: its repeats one after the other, and within a repeat its variants in turn, so that what
 * drifts meanwhile drifts for all of them. A survey reads each page once, and then each to its end. What has been read
 * already is passed over, so the job can run again.
 */
export async function runPageJob(tools: WorkerTools, job: ReadPageJob, hold: Hold): Promise<void> {
  const subject = await subjectOf(tools, job)
  if (!subject) return
  const series = tools.turns.newSeries()
  const copy = new PageCopy(tools.sequelize, subject)
  const variants = new VariantReader(subject, copy)
  try {
    await readRepeats(tools, subject, { series, variants, copy }, hold)
  } finally {
    series.end()
    await variants.forget()
    await copy.remove()
  }
}

async function subjectOf(tools: WorkerTools, { sweepId, pageId }: ReadPageJob): Promise<Subject | null> {
  const [sweep, page] = await Promise.all([SweepRow.findByPk(sweepId), PageRow.findByPk(pageId)])
  if (!sweep || !page || sweep.status !== 'running' || !(await isPageOpen(tools.sequelize, sweepId, pageId)))
    return null
  const [site, lens] = await Promise.all([SiteRow.findByPk(sweep.siteId), LensRow.findByPk(sweep.lensId!)])
  const key = site!.connectorKey === null ? null : open(site!.connectorKey, tools.secret)
  return { sweep, page, site: site!, lens: lens!, key }
}

interface Reader {
  series: Series
  variants: VariantReader
  copy: PageCopy
}

async function readRepeats(tools: WorkerTools, subject: Subject, reader: Reader, hold: Hold): Promise<void> {
  const { sequelize, turns } = tools
  const { sweep, page } = subject
  const job = { sweepId: sweep.id, pageId: page.id }
  await setPageState(sequelize, job, 'reading')
  await tellOf(sequelize, sweep)
  const overtaken = new Set<number>()
  const cookie = { value: undefined as string | null | undefined }
  // What is compared rests on equal numbers: what failed is made up for, within reason.
  const first = inRounds(sweep) && (await pagesOf(sequelize, sweep)) > 1 && !(await isBegun(sweep, page.id))
  const most = first ? 1 : sweep.repeats + (sweep.purpose === 'survey' ? 0 : MOST_MADE_UP)
  for (let repeat = 1; repeat <= most; repeat++) {
    if (repeat > sweep.repeats && !(await lacksReadings(sweep, page.id))) break
    for (const variant of sweep.variants) {
      const place = { ...job, variant: variant.name, repeat }
      if (await isRead(place)) continue
      if (!(await isRunning(sweep.id))) return
      const outcome = await take(tools, subject, { variant, repeat, cookie, ...reader })
      hold.check()
      if (typeof outcome === 'string') await storeFailure(place, outcome)
      else for (const other of await turns.beside(() => keep(tools, subject, place, outcome))) overtaken.add(other)
      await hold.progressed()
      await tellOf(sequelize, sweep)
    }
  }
  reader.series.end()
  // Patterns may have changed meanwhile.
  await sweep.reload()
  await turns.beside(async () => {
    hold.check()
    const { settle } = await takeSpans(sequelize, job, sweep.sources)
    let read = true
    for (const { name: variant } of sweep.variants)
      read = (await workOut(sequelize, sweep, { ...job, variant })) && read
    await settle()
    for (const other of overtaken) await workOutAnew(sequelize, sweep, other)
    await setPageState(sequelize, job, first ? 'begun' : read ? 'done' : 'failed')
    const isLast = await finishSweep(sequelize, sweep.id)
    await tellOf(sequelize, sweep)
    // What all pages together tell is worked out before anybody asks.
    if (!isLast || sweep.purpose !== 'survey') return
    await outsideOfSweep(sequelize, await sweep.reload())
    await complaintsOfSweep(sequelize, sweep)
    await knowByLook(sequelize, subject.site, sweep.id)
    await thinOld(sequelize, subject.site, await shownSweep(sequelize, sweep.siteId))
  })
}

const MOST_MADE_UP = 3

/** What is on trial is nobody's add-on, so variants are compared by what each reading tells. @returns whether there is one. */
const workOut = (sequelize: Sequelize, sweep: SweepRow, place: Omit<ReadingPlace, 'repeat'>): Promise<boolean> =>
  isCompared(sweep) ? hasReading(place) : storeTolls(sequelize, sweep.siteId, place, sweep.sources)

/** How many pages a sweep reads. One alone has nobody to wait for. */
async function pagesOf(sequelize: Sequelize, { id }: SweepRow): Promise<number> {
  const [row] = await sequelize.query<{ n: number }>('select count(*)::int n from sweep_page where sweep_id = :id', {
    replacements: { id },
    type: QueryTypes.SELECT,
  })
  return row!.n
}

/** Whether the first round has been at a page, whatever came of it. */
async function isBegun({ id, variants }: SweepRow, pageId: number): Promise<boolean> {
  const read = await Promise.all(variants.map(({ name }) => isRead({ sweepId: id, pageId, variant: name, repeat: 1 })))
  return read.every(Boolean)
}

/** Whether one side of a comparison has fewer good readings than was planned. A page that never gave one is not tried for ever. */
async function lacksReadings({ id, repeats, variants }: SweepRow, pageId: number): Promise<boolean> {
  const counts = await Promise.all(variants.map(({ name }) => countReadings({ sweepId: id, pageId, variant: name })))
  return counts.every((count) => count > 0) && counts.some((count) => count < repeats)
}

/** One reading of the page, or the sentence that says why there is none. What fails in Unvelt itself is thrown. */
async function take(
  tools: WorkerTools,
  { sweep, page, site, lens, key }: Subject,
  {
    variant,
    repeat,
    cookie,
    series,
    variants,
    copy,
  }: Reader & { variant: Variant; repeat: number; cookie: { value: string | null | undefined } },
): Promise<(Taken & { timed: boolean }) | string> {
  const { turns } = tools
  // The first one that succeeds looks at everything; those after it are clean, and give the times.
  const first = !(await hasReading({ sweepId: sweep.id, pageId: page.id, variant: variant.name }))
  // Its times come from the clean ones, so the first one need not be alone; where no other follows, it must.
  const timed = !first || !looksFirst(sweep) || repeat === sweep.repeats
  const reach = reachOf(site)
  const taken: { picture: Picture | null; marks: Taken['marks'] } = { picture: null, marks: undefined }
  try {
    const path = sweep.onCopies ? await turns.beside(() => copy.path()) : page.path
    const url = siteAddress(site.address, path)
    // Signed in once for all readings of the page, and only when there is one to take.
    cookie.value ??= await turns.beside(() => signIn(site.address, lens.settings, tools.secret, reach))
    const asksMarks = key !== null && site.connector?.measuring?.marks
    const order: ReadingOrder = {
      url: url.href,
      ownHosts: site.ownHosts,
      cookie: cookie.value,
      lens: lens.settings,
      reach,
      clean: !first,
      untimed: !timed,
      // Steps take as long as the load, so one repeat takes them.
      // Never in the back office, nor as somebody who has signed in: what is pressed there may change the site.
      ...(sweep.purpose === 'survey' &&
        first &&
        page.area === 'public' &&
        lens.settings.visitor.kind === 'signed-out' && {
          steps: sendingNothing(stepsFor(page.kind, site.steps ?? undefined)),
          onPicture: (picture: Picture) => void (taken.picture = picture),
          // Nothing is timed any more, and the steps wait a good deal.
          ...(asksMarks && {
            onLoaded: () => {
              taken.marks = tools.browsers.shared().then(
                (browser) => askMarked(browser, order, key, variant.rules),
                () => null,
              )
            },
          }),
        }),
      // What is compared is shown side by side; nothing is done on such pages.
      ...(sweep.purpose === 'weigh-in' &&
        first && { steps: [], onPicture: (picture: Picture) => void (taken.picture = picture) }),
      ...(key && timed && !isCompared(sweep) && { trace: newTrace(site.id) }),
    }
    // What gathers waits for the end of all series, so it can't be in one.
    if (!timed) series.end()
    const reading = await variants.read(variant, ({ rules, rewrite }) => {
      const measured = key && {
        measuringHeader: () => measuringHeader(url, key, { rules, cache: 'bypass' }, Date.now() / 1000),
      }
      return readInLivingBrowser(tools, { ...order, ...measured, ...(rewrite && { rewrite }) }, timed)
    })
    series.begin()
    return { reading, ...taken, timed }
  } catch (error) {
    if (tools.stopping() || ownTrouble(error)) throw error
    if (sweep.onCopies && /answered 404/.test(String(error))) {
      // The site was started anew, and keeps neither the copy nor the rules for it.
      copy.lost()
      await variants.forget()
    }
    return failureSentence(error)
  }
}

/** Keeps a reading with all that is learnt from it. @returns pages that were worked out without knowing that. */
async function keep(
  { sequelize }: WorkerTools,
  { sweep, page, site, key }: Subject,
  place: ReadingPlace,
  { reading, picture, marks, timed }: Taken & { timed: boolean },
): Promise<number[]> {
  const told = await marks
  if (told) reading.elementWriters = told
  if (isCompared(sweep)) {
    await storeReading(place, reading, sweep.sources, { timed, weighed: true })
    if (picture) await storePicture(sequelize, place, picture)
    return []
  }
  await learnGlued(sequelize, site, sweep, reading, key)
  const overtaken = sweep.purpose === 'survey' ? await learnSnippets(sequelize, sweep, page.id, reading) : []
  if (!site.connector) await learnTitle(site, page, reading)
  await storeReading(place, reading, sweep.sources, { timed, weighed: sweep.purpose === 'proof' })
  if (picture) await storePicture(sequelize, place, picture)
  return overtaken
}

/** A page of the sweep that was done before something was learnt that changes who pays on it. */
async function workOutAnew(sequelize: Sequelize, sweep: SweepRow, pageId: number): Promise<void> {
  const done = await sequelize.query(
    `select 1 from sweep_page where sweep_id = :sweep and page_id = :pageId and state in ('begun', 'done')`,
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
