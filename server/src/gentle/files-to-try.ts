import { QueryTypes, type Sequelize } from 'sequelize'
import { MOST_FILES } from '@unvelt/core'
import { SweepRow } from '../sweep/sweep.model.js'
import { shownSweep } from '../sweep/shown-sweep.js'
import { nameInRules } from '../toll/file-toll-store.js'

/** Scripts and styles of an add-on that came to a page in the sweep that is shown, as rules call them, the heaviest first. */
export async function filesToTry(
  sequelize: Sequelize,
  siteId: number,
  pageId: number,
  payer: string,
): Promise<string[]> {
  const shown = await shownSweep(sequelize, siteId)
  const sweep = shown === null ? null : await SweepRow.findByPk(shown)
  if (!sweep) return []
  const files = await sequelize.query<{ url: string }>(
    `select url from file_toll where sweep_id = :sweep and page_id = :page and payer = :payer and type in ('script', 'style')
     group by url order by max(transfer_bytes) desc, url limit :most`,
    { replacements: { sweep: sweep.id, page: pageId, payer, most: MOST_FILES + 1 }, type: QueryTypes.SELECT },
  )
  return [...new Set(files.map(({ url }) => nameInRules(url, sweep.sources.ownHosts)))]
}
