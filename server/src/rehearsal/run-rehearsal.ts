import type { Sequelize } from 'sequelize'
import { tellRehearsal } from '../events/tell.js'
import { LensRow } from '../lens/lens.model.js'
import { PageRow } from '../page/page.model.js'
import { patternsOf } from '../pattern/pattern.model.js'
import type { Hold } from '../queue/job.js'
import { ownTrouble } from '../queue/own-trouble.js'
import type { RehearseJob } from '../queue/queue.js'
import { reachOf } from '../reach/reach.js'
import { failureSentence } from '../reading/failure.js'
import { mergeRules } from '../rule/merge-rules.js'
import { ConnectorClient } from '../site-http/connector-client.js'
import { open } from '../site-http/secret-box.js'
import { signIn } from '../site-http/sign-in.js'
import { SiteRow } from '../site/site.model.js'
import { attributionSources, evidentAddOns } from '../sweep/sources.js'
import type { WorkerTools } from '../worker/worker-tools.js'
import { judgePage } from './judge-page.js'
import { keepPicture } from './picture-store.js'
import { readRehearsed, type Subject } from './read-rehearsed.js'
import { turnsOf } from './rehearsal-plan.js'
import { RehearsalPageRow, RehearsalRow } from './rehearsal.model.js'

type Common = Pick<Subject, 'site' | 'key' | 'sources' | 'rules' | 'liveVersion'>

/** Reads the pages of a rehearsal one after the other, from where it was broken off. */
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
    for (const page of pages) {
      if (!(await isRunning(id))) return
      await rehearsePage(tools, common, row, page, atSite, hold)
    }
    hold.check()
    await endRehearsal(tools.sequelize, id, 'done', null)
  } finally {
    await atSite.forget()
  }
}

async function commonOf(tools: WorkerTools, row: RehearsalRow): Promise<Common> {
  const site = (await SiteRow.findByPk(row.siteId))!
  const [addOns, patterns] = await Promise.all([evidentAddOns(site.id), patternsOf(site.id)])
  return {
    site,
    key: site.connectorKey === null ? null : open(site.connectorKey, tools.secret),
    sources: attributionSources(site, addOns, patterns),
    rules: mergeRules(row.liveRules, row.drafts),
    liveVersion: row.liveVersion,
  }
}

async function rehearsePage(
  tools: WorkerTools,
  common: Common,
  row: RehearsalRow,
  rehearsed: RehearsalPageRow,
  atSite: DraftsAtSite,
  hold: Hold,
): Promise<void> {
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
    const turns = turnsOf(row.mode)
    while (rehearsed.readings.length < turns.length) {
      if (!(await isRunning(row.id))) return
      const turn = rehearsed.readings.length
      const wish = { ...turns[turn]!, turn }
      const read = () => atSite.name().then((name) => readRehearsed(tools, subject, wish, name))
      const { reading, picture } = await read().catch((error: unknown) => {
        // The site was started anew, or has kept the drafts for long enough.
        if (!/answered 409/.test((error as Error).message)) throw error
        atSite.lost()
        return read()
      })
      hold.check()
      if (picture) await keepPicture(sequelize, place, turn, picture)
      await rehearsed.update({ readings: [...rehearsed.readings, reading] })
      await hold.progressed()
      await tellRehearsal(sequelize, { siteId: row.siteId, rehearsalId: row.id })
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

/** The drafts as the site keeps them for a while; nothing where it does not keep any. */
class DraftsAtSite {
  private id: string | null = null

  constructor(
    private readonly common: Common,
    private readonly row: RehearsalRow,
  ) {}

  private get connector(): ConnectorClient {
    const { site, key } = this.common
    return new ConnectorClient(site.address, site.connector!.base, key ?? '', reachOf(site))
  }

  async name(): Promise<string | null> {
    if (this.row.mechanism !== 'site') return null
    return (this.id ??= await this.connector.keepDrafts([...this.common.rules]))
  }

  lost(): void {
    this.id = null
  }

  async forget(): Promise<void> {
    if (this.id !== null) await this.connector.removeDrafts(this.id).catch(() => {})
  }
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
