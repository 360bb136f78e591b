import type { Sequelize } from 'sequelize'
import { complaintsOfSweep } from '../complaint/complaints-of-sweep.js'
import { outsideOfSweep } from '../outside/outside-of-sweep.js'
import type { SiteRow } from '../site/site.model.js'
import { SweepRow } from '../sweep/sweep.model.js'
import { keepPack } from '../toll/pack-store.js'
import { dropUnnamed } from './drop-unnamed.js'
import { toThin } from './to-thin.js'

/** What only whoever looks into a page needs. Tolls, files' tolls, what was seen in use and each reading's figures stay. */
const GOES = ['picture', 'prediction_groups']

/** Keeps of a site's older sweeps only what they came to, as the site's setting says. @returns how many became so. */
export async function thinOld(
  sequelize: Sequelize,
  site: Pick<SiteRow, 'id' | 'keepFull'>,
  shown: number | null,
): Promise<number> {
  if (site.keepFull == null) return 0
  const sweeps = await SweepRow.findAll({ where: { siteId: site.id } })
  const old = toThin(sweeps, site.keepFull, shown)
  for (const sweep of old) await thin(sequelize, sweep)
  return old.length
}

/** What all its readings together tell is worked out while they are there. */
async function thin(sequelize: Sequelize, sweep: SweepRow): Promise<void> {
  if (sweep.purpose === 'survey' || sweep.purpose === 'import') {
    await keepPack(sequelize, sweep.id)
    await outsideOfSweep(sequelize, sweep)
    await complaintsOfSweep(sequelize, sweep)
  }
  await sequelize.transaction(async (transaction) => {
    const options = { bind: [sweep.id], transaction }
    await sequelize.query('update reading set detail = null, detail_in = null where sweep_id = $1', options)
    await sequelize.query('delete from page_file where sweep_id = $1 and requests is null', options)
    await sequelize.query('update page_file set code_bytes = null, use_id = null where sweep_id = $1', options)
    for (const table of GOES) await sequelize.query(`delete from "${table}" where sweep_id = $1`, options)
    await sweep.update({ thinnedAt: new Date() }, { transaction })
  })
  await dropUnnamed(sequelize, sweep.siteId)
}
