import { Inject, Injectable } from '@nestjs/common'
import { QueryTypes, Sequelize } from 'sequelize'
import { cameOfPromise, viewsInThousand, type SiteVisits } from '@unvelt/core'
import type { CameOfFile, PromiseKind, Promises } from '@unvelt/contract'
import { keptView } from '../kept/kept-view.js'
import { PageRow } from '../page/page.model.js'
import type { SiteRow } from '../site/site.model.js'
import { SweepService } from '../sweep/sweep.service.js'
import { metBytes } from './keep-promises.js'

interface Said {
  url: string
  bodyBytes: number
  bytes: number
  saving: number
  sweepId: number | null
  madeAt: Date
  /** Where one that looks the same has come since. */
  comeAs: string | null
}

interface Visits {
  views: Map<number, number | null>
  site: SiteVisits
}

const TYPES: Record<PromiseKind, string[]> = { picture: ['picture'], file: ['script', 'style'] }

/** What came of what looks at pictures and files said that could be spared, by the sweep that is shown. */
@Injectable()
export class PromiseService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    private readonly sweeps: SweepService,
  ) {}

  async view(site: SiteRow, kind: PromiseKind): Promise<Promises> {
    const [said, sweep] = await Promise.all([this.said(site.id, kind), this.sweeps.toShow(site.id)])
    const due = said.filter(({ madeAt }) => sweep && sweep.startedAt > madeAt)
    if (!sweep || due.length === 0) return { sweepId: null, found: [], notYet: 0, toCome: said.length }
    const visits = await this.visits(site.id)
    // Every file of a sweep is gone through for it, and Standing asks for it each time.
    return keptView(
      this.sequelize,
      sweep,
      `promises of ${kind}s`,
      () => this.come(sweep.id, said.length, due, kind, visits),
      JSON.stringify([due, said.length, [...visits.views]]),
    )
  }

  private async come(
    sweepId: number,
    said: number,
    due: readonly Said[],
    kind: PromiseKind,
    visits: Visits,
  ): Promise<Promises> {
    const met = new Map(
      [...(await metBytes(this.sequelize, sweepId))].map(([url, bytes]) => [url, { url, bytes: Math.round(bytes) }]),
    )
    const known = await this.known(due)
    const loads = await this.loadsInThousand(due, kind, visits)
    const found = due.map((one): CameOfFile => {
      const before = known.get(one.sweepId ?? 0)
      // Where nothing is known of before, nothing is taken for new.
      const came = cameOfPromise(one, met, before && before.size > 0 ? before : new Set(met.keys()), one.comeAs)
      const { madeAt, sweepId: _, comeAs: __, ...file } = one
      return { ...file, madeAt: madeAt.toISOString(), ...came, spared: came.came * (loads.get(one.url) ?? 0) }
    })
    return {
      sweepId,
      found: found.filter(({ word }) => word !== 'not yet').sort((a, b) => b.spared - a.spared),
      notYet: found.filter(({ word }) => word === 'not yet').length,
      toCome: said - due.length,
    }
  }

  /** Tells of a file as it was looked at whether it has come otherwise since: what could be spared of it is to be weighed anew. */
  async changedSince(site: SiteRow, kind: PromiseKind): Promise<(file: { url: string; bytes: number }) => boolean> {
    const { found } = await this.view(site, kind)
    const changed = new Map(found.map(({ url, bodyBytes }) => [url, bodyBytes]))
    return ({ url, bytes }) => changed.get(url) === bytes
  }

  private said(siteId: number, kind: PromiseKind): Promise<Said[]> {
    return this.sequelize.query<Said>(
      `select url, body_bytes::float8 "bodyBytes", bytes::float8 bytes, saving::float8 saving, sweep_id "sweepId", made_at "madeAt", come_as "comeAs" from weight_promise
       where site_id = $1 and kind = $2 order by url`,
      { bind: [siteId, kind], type: QueryTypes.SELECT },
    )
  }

  /** Sweep → every address that was met in it. */
  private async known(due: readonly Said[]): Promise<Map<number, Set<string>>> {
    const ids = [...new Set(due.flatMap(({ sweepId }) => sweepId ?? []))]
    const rows = await this.sequelize.query<{ id: number; urls: string[] }>(
      'select sweep_id id, array_agg(distinct url) urls from file_toll where sweep_id = any($1::int[]) group by sweep_id',
      { bind: [ids], type: QueryTypes.SELECT },
    )
    return new Map(rows.map(({ id, urls }) => [id, new Set(urls)]))
  }

  /** Views of the pages that anybody may see, by their ids; null where they are not known. */
  private async visits(siteId: number): Promise<Visits> {
    const pages = await PageRow.findAll({
      where: { siteId, area: 'public', signedIn: false, gone: false },
      order: ['id'],
    })
    const views = new Map(pages.map((page) => [page.id, page.importedViews ?? page.views]))
    return {
      views,
      site: { views: [...views.values()].reduce<number>((sum, n) => sum + (n ?? 0), 0), pages: pages.length },
    }
  }

  /** How often each was loaded in 1,000 page views, by the sweep before which it was said. */
  private async loadsInThousand(
    due: readonly Said[],
    kind: PromiseKind,
    { views, site }: Visits,
  ): Promise<Map<string, number>> {
    const rows = await this.sequelize.query<{ url: string; pageIds: number[] }>(
      `select url, array_agg(distinct page_id) "pageIds" from file_toll
       where (sweep_id, url) in (select * from unnest($1::int[], $2::text[])) and type = any($3) and requests > 0 group by url`,
      {
        bind: [due.map(({ sweepId }) => sweepId ?? 0), due.map(({ url }) => url), TYPES[kind]],
        type: QueryTypes.SELECT,
      },
    )
    return new Map(
      rows.map(({ url, pageIds }) => [
        url,
        pageIds.reduce((sum, id) => sum + (views.has(id) ? viewsInThousand({ views: views.get(id)! }, site) : 0), 0),
      ]),
    )
  }
}
