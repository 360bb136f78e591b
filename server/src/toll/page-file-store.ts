import { QueryTypes, type Sequelize, type Transaction } from 'sequelize'
import type { FileToll, Range } from '@unvelt/core'

const LONGEST_URL = 2_000
const MOST = 2_147_483_647

/** What a page used of a file's code: during the load, and by the end of the steps. In bytes, in order. */
export interface UsedFile {
  url: string
  bytes: number
  payer: string
  used: Range[]
  later: Range[]
}

/** What is kept of one file of a page: what it costs, what was used of it, or both. */
interface PageFile {
  payer: string
  url: string
  /** None of code that no request brought. */
  type: string
  toll: FileToll | null
  use: UsedFile | null
  /** Whether the page's own HTML asks for it, and nothing else. */
  inHtml: boolean
}

/** Costs and uses of the same file stand in one row. Of a file that came in several versions the others stand by themselves. */
export function pageFiles(
  tolls: readonly FileToll[],
  uses: readonly UsedFile[],
  inHtml: ReadonlySet<string>,
): PageFile[] {
  const named = ({ payer, url }: { payer: string; url: string }) => `${payer} ${url}`
  const files = tolls.map((toll): PageFile => ({ ...toll, toll, use: null, inHtml: inHtml.has(toll.url) }))
  const free = new Map(files.map((file) => [named(file), file]))
  for (const use of uses) {
    const file = free.get(named(use))
    if (file) file.use = use
    else files.push({ payer: use.payer, url: use.url, type: '', toll: null, use, inHtml: inHtml.has(use.url) })
    free.delete(named(use))
  }
  return files
}

const multirange = (ranges: readonly Range[]) => `{${ranges.map(([from, to]) => `[${from},${to})`).join(',')}}`
const short = (url: string) => url.slice(0, LONGEST_URL)

/**
 * Gives names to what files have in common, where nobody has named it yet. Outside of what stores a page: whoever else names
 * the same waits no longer than for that. All in one order, so that two wait for each other and never both.
 */
export async function nameFiles(sequelize: Sequelize, siteId: number, files: readonly PageFile[]): Promise<void> {
  if (files.length === 0) return
  await sequelize.query(
    `insert into payer_key (site_id, slug) select distinct $1::int, slug from unnest($2::text[]) slug order by slug on conflict do nothing`,
    { bind: [siteId, files.map(({ payer }) => payer)] },
  )
  await sequelize.query(
    `insert into file_address (site_id, url, type)
     select distinct $1::int, url, type from unnest($2::text[], $3::text[]) told (url, type) order by url, type on conflict do nothing`,
    { bind: [siteId, files.map(({ url }) => short(url)), files.map(({ type }) => type)] },
  )
  const uses = files.flatMap(({ use }) => use ?? [])
  await sequelize.query(
    `insert into code_use (site_id, hash, used, later)
     select distinct on (hash) $1::int, md5(used::text || later::text)::uuid hash, used, later
     from unnest($2::int4multirange[], $3::int4multirange[]) told (used, later) order by hash on conflict do nothing`,
    { bind: [siteId, uses.map(({ used }) => multirange(used)), uses.map(({ later }) => multirange(later))] },
  )
}

/** Keeps the files of a page, in place of what was known of the page in that sweep. They have been named. */
export async function storePageFiles(
  sequelize: Sequelize,
  { siteId, sweepId, pageId }: { siteId: number; sweepId: number; pageId: number },
  files: readonly PageFile[],
  transaction: Transaction,
): Promise<void> {
  await sequelize.query('delete from page_file where sweep_id = $1 and page_id = $2', {
    bind: [sweepId, pageId],
    transaction,
  })
  if (files.length === 0) return
  const cost = (of: (toll: FileToll) => number) =>
    files.map(({ toll }) => (toll === null ? null : Math.min(MOST, of(toll))))
  const [, stored] = await sequelize.query(
    `insert into page_file
     select $1, $2, payer_key.id, file_address.id, requests, transfer_bytes, decoded_bytes, idle_bytes, main_thread_ms, code_bytes, code_use.id, in_html
     from unnest($4::text[], $5::text[], $6::text[], $7::int[], $8::int[], $9::int[], $10::int[], $11::real[], $12::int[],
         $13::int4multirange[], $14::int4multirange[], $15::boolean[])
       told (payer, url, type, requests, transfer_bytes, decoded_bytes, idle_bytes, main_thread_ms, code_bytes, used, later, in_html)
     join payer_key on payer_key.site_id = $3 and slug = payer
     join file_address on file_address.site_id = $3 and md5(file_address.url) = md5(told.url) and file_address.type = told.type
     left join code_use on code_use.site_id = $3 and hash = md5(told.used::text || told.later::text)::uuid`,
    {
      bind: [
        sweepId,
        pageId,
        siteId,
        files.map(({ payer }) => payer),
        files.map(({ url }) => short(url)),
        files.map(({ type }) => type),
        cost(({ requests }) => requests),
        cost(({ transferBytes }) => transferBytes),
        cost(({ decodedBytes }) => decodedBytes),
        cost(({ idleBytes }) => idleBytes),
        cost(({ mainThreadMs }) => mainThreadMs),
        files.map(({ use }) => (use === null ? null : Math.min(MOST, use.bytes))),
        files.map(({ use }) => use && multirange(use.used)),
        files.map(({ use }) => use && multirange(use.later)),
        files.map(({ inHtml }) => inHtml),
      ],
      type: QueryTypes.INSERT,
      transaction,
    },
  )
  // Whoever tidies up took a name away that nobody seemed to have. The page is stored once more then.
  if (stored !== files.length) throw new Error(`Of ${files.length} files of a page ${stored} have a name.`)
}
