import type { Sequelize } from 'sequelize'
import { attribute, outsideOf } from '@unvelt/core'
import type { Outside } from '@unvelt/contract'
import { keptView } from '../kept/kept-view.js'
import { PageRow } from '../page/page.model.js'
import { middleReading } from '../rule/prediction.service.js'
import type { SweepRow } from '../sweep/sweep.model.js'
import { OutsideSum } from './outside-sum.js'

export type OutsideOfSweep = Omit<Outside, 'sweepId' | 'lens'>

/** Figures that were kept before there was this one are worked out anew. */
const FIGURES = 'with failures and usual answers'

/** All that a sweep saw of other companies' hosts, one reading of each page: worked out once. Payers are named by their slugs. */
export function outsideOfSweep(sequelize: Sequelize, sweep: SweepRow): Promise<OutsideOfSweep> {
  const make = async () => {
    const pages = await PageRow.findAll({ where: { siteId: sweep.siteId }, order: ['position'] })
    const sum = new OutsideSum()
    for (const page of pages) {
      const reading = await middleReading(sweep, page.id)
      if (reading) sum.add(reading, outsideOf(reading, attribute(reading, sweep.sources), sweep.sources.ownHosts))
      // Others that wait for an answer have their turn in between.
      await new Promise((resolve) => setImmediate(resolve))
    }
    return sum.result()
  }
  return keptView(sequelize, sweep, 'outside', make, FIGURES)
}
