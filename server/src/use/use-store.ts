import { QueryTypes, type Sequelize, type Transaction } from 'sequelize'
import type { Seen } from '@unvelt/core'
import type { UseEvidenceAnswer } from '@unvelt/contract'

/** One stored fact about an add-on's use. `pageId` is null for a word that holds on every page. */
export interface StoredUse {
  pageId: number | null
  slug: string
  feature: string | null
  source: 'connector' | 'reading' | 'hand'
  word: 'used' | 'works unseen' | 'planned' | 'not seen'
  because: string
  who: string | null
}

/** What holds for a site: facts of no sweep, and those of one. Each by an index of its own, whatever other sweeps have seen. */
const HOLDING = (columns: string) => `
  select ${columns} from use_fact where site_id = :siteId and sweep_id is null
  union all select ${columns} from use_fact where sweep_id = :sweepId and site_id = :siteId`

/** The connector's and the maintainer's words, and what one sweep has seen. */
export function useFacts(sequelize: Sequelize, siteId: number, sweepId: number | null, slug?: string) {
  return sequelize.query<StoredUse>(
    `select page_id "pageId", slug, feature, source, word, because, who
     from (${HOLDING('id, page_id, slug, feature, source, word, because, who')}) facts
     ${slug === undefined ? '' : 'where slug = :slug'} order by id`,
    { replacements: { siteId, sweepId, slug: slug ?? null }, type: QueryTypes.SELECT },
  )
}

/** Another whenever one of the facts is added or taken away; none is ever changed. */
export async function factsVersion(sequelize: Sequelize, siteId: number, sweepId: number | null): Promise<string> {
  const [row] = await sequelize.query<{ version: string }>(
    `select concat_ws(' ', count(*), max(id), sum(id)) version from (${HOLDING('id')}) facts`,
    { replacements: { siteId, sweepId }, type: QueryTypes.SELECT },
  )
  return row!.version
}

/** Puts what the connector tells now in the place of what it told before. */
export async function storeConnectorUse(
  sequelize: Sequelize,
  siteId: number,
  uses: UseEvidenceAnswer['uses'],
  transaction: Transaction,
): Promise<void> {
  await sequelize.query(`delete from use_fact where site_id = $1 and source = 'connector'`, {
    bind: [siteId],
    transaction,
  })
  if (uses.length === 0) return
  await sequelize.query(
    `insert into use_fact (site_id, page_id, slug, feature, source, word, because)
     select $1, page.id, told.slug, told.feature, 'connector', told.word, told.because
     from unnest($2::text[], $3::text[], $4::text[], $5::text[], $6::text[]) told (path, slug, feature, word, because)
     join page on page.site_id = $1 and page.path = told.path`,
    {
      bind: [
        siteId,
        uses.map(({ path }) => path),
        uses.map(({ addon }) => addon),
        uses.map(({ feature }) => feature ?? null),
        uses.map(({ planned }) => (planned ? 'planned' : 'used')),
        uses.map(({ through }) => through),
      ],
      transaction,
    },
  )
}

/** Keeps the signs of use that a sweep has seen on a page, in place of those it had. */
export async function storeSeen(
  sequelize: Sequelize,
  { siteId, sweepId, pageId }: { siteId: number; sweepId: number; pageId: number },
  seen: readonly Seen[],
  transaction: Transaction,
): Promise<void> {
  await sequelize.query('delete from use_fact where sweep_id = $1 and page_id = $2', {
    bind: [sweepId, pageId],
    transaction,
  })
  if (seen.length === 0) return
  await sequelize.query(
    `insert into use_fact (site_id, sweep_id, page_id, slug, source, word, because)
     select $1, $2, $3, slug, 'reading', 'used', because from unnest($4::text[], $5::text[]) seen (slug, because)`,
    {
      bind: [siteId, sweepId, pageId, seen.map(({ payer }) => payer), seen.map(({ because }) => because)],
      transaction,
    },
  )
}
