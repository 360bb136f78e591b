import { Inject, Injectable } from '@nestjs/common'
import { QueryTypes, Sequelize } from 'sequelize'
import type { EarlyHost, FontStandIn } from '@unvelt/core'
import type { RuleInput, RulePartsFound } from '@unvelt/contract'
import { findStandIns } from '../font/find-stand-ins.js'
import { reachOf } from '../reach/reach.js'
import type { SiteRow } from '../site/site.model.js'
import { SweepService } from '../sweep/sweep.service.js'

const MOST_HOSTS = 10
/** Whoever drafts waits no longer for what can also be left out. */
const PATIENCE_MS = 6_000

/** What the newest sweep knows that a rule of some effects should say. */
@Injectable()
export class ParticularsService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    private readonly sweeps: SweepService,
  ) {}

  async found(site: SiteRow, addon: string): Promise<RulePartsFound> {
    const [fonts, hosts] = await Promise.all([this.standIns(site, addon), this.hosts(site, addon)])
    return { fonts, hosts }
  }

  /** The rules, each with what it leaves to be found. What can't be found in time stays open. */
  async fill(site: SiteRow, inputs: RuleInput[]): Promise<RuleInput[]> {
    // A selection may draft hundreds of rules about one add-on.
    const fonts = once((addon) => inTime(this.standIns(site, addon)))
    const hosts = once((addon) => this.hosts(site, addon))
    return Promise.all(
      inputs.map(async (input) => {
        if (input.removed) return input
        if (input.effect === 'system-font' && input.fonts === undefined) {
          const found = await fonts(input.addon)
          return found.length > 0 ? { ...input, fonts: found } : input
        }
        // A file is asked for first, and connects to no other host than its own.
        if (input.effect === 'hint' && input.hosts === undefined && input.file === undefined) {
          const found = await hosts(input.addon)
          return found.length > 0 ? { ...input, hosts: found } : input
        }
        return input
      }),
    )
  }

  private async standIns(site: SiteRow, addon: string): Promise<FontStandIn[]> {
    const files = await this.filesOf(site.id, addon, ['style', 'font'])
    const of = (type: string) => files.filter((file) => file.type === type).map(({ url }) => url)
    return findStandIns({ styles: of('style'), files: of('font') }, reachOf(site))
  }

  /** The outside hosts that an add-on asks, the one that most pages ask first. Fonts are asked for without credentials. */
  private async hosts(site: SiteRow, addon: string): Promise<EarlyHost[]> {
    const own = new Set(site.ownHosts)
    const asked = new Map<string, { host: EarlyHost; pages: number }>()
    for (const { url, type, pages } of await this.filesOf(site.id, addon)) {
      const { origin, host } = new URL(url)
      if (own.has(host)) continue
      const cors = type === 'font'
      const key = `${origin} ${cors}`
      const known = asked.get(key)
      if (!known) asked.set(key, { host: { origin, ...(cors && { cors }) }, pages })
      else known.pages = Math.max(known.pages, pages)
    }
    return [...asked.values()]
      .sort((a, b) => b.pages - a.pages || Number(a.host.cors ?? false) - Number(b.host.cors ?? false))
      .slice(0, MOST_HOSTS)
      .map(({ host }) => host)
  }

  private async filesOf(siteId: number, payer: string, types: string[] | null = null) {
    const sweep = await this.sweeps.toShow(siteId)
    if (!sweep) return []
    return this.sequelize.query<{ url: string; type: string; pages: number }>(
      `select url, min(type) "type", count(distinct page_id)::int pages from file_toll
       where sweep_id = $1 and payer = $2 and ($3::text[] is null or type = any($3::text[])) and url ~ '^https?://'
       group by url order by pages desc, url limit 500`,
      { bind: [sweep.id, payer, types], type: QueryTypes.SELECT },
    )
  }
}

/** What is asked for each add-on, and no more than once. */
function once<T>(ask: (addon: string) => Promise<T>): (addon: string) => Promise<T> {
  const asked = new Map<string, Promise<T>>()
  return (addon) => {
    const known = asked.get(addon) ?? ask(addon)
    asked.set(addon, known)
    return known
  }
}

const inTime = <T>(asked: Promise<T[]>): Promise<T[]> => {
  let timer: NodeJS.Timeout
  const late = new Promise<T[]>((resolve) => (timer = setTimeout(resolve, PATIENCE_MS, [])))
  return Promise.race([asked, late]).finally(() => clearTimeout(timer))
}
