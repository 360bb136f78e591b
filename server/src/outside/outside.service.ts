import { Inject, Injectable } from '@nestjs/common'
import { Sequelize } from 'sequelize'
import type { Outside } from '@unvelt/contract'
import { AddOnRow } from '../add-on/add-on.model.js'
import type { SweepRow } from '../sweep/sweep.model.js'
import { SweepService } from '../sweep/sweep.service.js'
import { outsideOfSweep } from './outside-of-sweep.js'

const NOTHING: Outside = {
  sweepId: null,
  lens: null,
  pages: 0,
  ownRequests: 0,
  ownTransferBytes: 0,
  payers: [],
  chains: [],
  faces: [],
}

/** What comes from other companies' hosts, under the names that their add-ons have now. */
@Injectable()
export class OutsideService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    private readonly sweeps: SweepService,
  ) {}

  async outside(siteId: number, sweep: SweepRow | null): Promise<Outside> {
    if (!sweep) return NOTHING
    const { payers, chains, ...rest } = await outsideOfSweep(this.sequelize, sweep)
    const names = new Map((await AddOnRow.findAll({ where: { siteId } })).map(({ slug, name }) => [slug, name]))
    const nameOf = (slug: string) => names.get(slug) ?? slug
    return {
      sweepId: sweep.id,
      lens: (await this.sweeps.view(sweep)).lens,
      ...rest,
      payers: payers.map((payer) => ({ ...payer, name: nameOf(payer.payer) })),
      chains: chains.map((chain) => ({ ...chain, payer: nameOf(chain.payer) })),
    }
  }
}
