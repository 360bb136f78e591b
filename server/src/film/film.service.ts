import { Injectable } from '@nestjs/common'
import { isOutsider } from '@unvelt/core'
import type { FilmSide, FilmView } from '@unvelt/contract'
import { AddOnRow } from '../add-on/add-on.model.js'
import { PAGE_PAYERS } from '../ledger/nameless.js'
import type { OnDemand } from '../on-demand/on-demand.model.js'
import { OnDemandService } from '../on-demand/on-demand.service.js'
import { notFound, ProblemError } from '../problem/problem.error.js'
import type { ProofRow } from '../proof/proof.model.js'
import { SweepService } from '../sweep/sweep.service.js'
import { FilmFrameRow } from './film-frame.model.js'

/** So many films of a page are looked through for the one of a proof. */
const MOST_FILMS = 20

/** Films the loads before and after a change, and shows what was filmed. */
@Injectable()
export class FilmService {
  constructor(
    private readonly onDemand: OnDemandService,
    private readonly sweeps: SweepService,
  ) {}

  async start(proof: ProofRow, pageId: number): Promise<FilmView> {
    const { lensId } = await this.sweeps.get(proof.sweepId)
    if (lensId === null) throw new ProblemError(409, 'What came from a file can’t be filmed.')
    await this.onDemand.needPage(proof.siteId, pageId)
    const wish = { proofId: proof.id, lensId, before: proof.fromVersion, after: proof.toVersion }
    await this.onDemand.start('film', { siteId: proof.siteId, pageId }, wish, 'The page is being filmed already.')
    return this.view(proof, pageId)
  }

  async view(proof: ProofRow, pageId: number): Promise<FilmView> {
    const film = await this.newest(proof, pageId)
    if (!film) return { id: null, state: 'none', failure: null, takenAt: null, loads: [] }
    const names = await this.namesIn(proof.siteId)
    return {
      id: film.id,
      state: film.state,
      failure: film.failure,
      takenAt: film.takenAt?.toISOString() ?? null,
      loads: film.taken.map(({ lanes, ...load }) => ({
        ...load,
        lanes: lanes.map((lane) => ({ ...lane, name: names.get(lane.payer) ?? outsiderName(lane.payer) })),
      })),
    }
  }

  async frame(id: number, side: string, n: number): Promise<Buffer> {
    const row = await FilmFrameRow.findOne({ where: { readingOnDemandId: id, side: side as FilmSide, n } })
    if (!row) throw notFound('frame')
    return row.jpeg
  }

  private async newest(proof: ProofRow, pageId: number): Promise<OnDemand<'film'> | undefined> {
    const films = await this.onDemand.newest('film', { siteId: proof.siteId, pageId }, MOST_FILMS)
    return films.find(({ wish }) => wish.proofId === proof.id)
  }

  private async namesIn(siteId: number): Promise<Map<string, string>> {
    const rows = await AddOnRow.findAll({ where: { siteId }, attributes: ['slug', 'name'] })
    return new Map([...rows, ...PAGE_PAYERS].map(({ slug, name }) => [slug, name]))
  }
}

/** Outsiders that nobody has named are known by their hosts. */
const outsiderName = (payer: string): string => (isOutsider(payer) ? payer.slice(payer.indexOf(':') + 1) : payer)
