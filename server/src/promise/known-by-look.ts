import { QueryTypes, type Sequelize } from 'sequelize'
import { cameOfPromise, looksAlike, type PictureLooks } from '@unvelt/core'
import { looksOf } from '../picture-look/looks-of.js'
import { reachOf } from '../reach/reach.js'
import { fetchPacked } from '../site-http/fetch-packed.js'
import type { SiteRow } from '../site/site.model.js'
import { metBytes } from './keep-promises.js'

/** So many new pictures are asked for once more, those of most pages first. */
const MOST_LOOKED_AT = 40
const MOST_BYTES = 8e6
/** What was not looked at by then is looked at after the next sweep. */
const LONGEST_MS = 60_000

interface Missed {
  url: string
  bytes: number
  saving: number
  looks: PictureLooks
  sweepId: number
}

/**
 * Pictures that were promised to weigh less, and that a sweep met no more by their address or name: a new one on the same pages that
 * looks the same has come in their place. Nothing is asked for where none is missed.
 */
export async function knowByLook(sequelize: Sequelize, site: SiteRow, sweepId: number): Promise<void> {
  const told = await sequelize.query<Missed>(
    `select url, bytes::float8 bytes, saving::float8 saving, looks, sweep_id "sweepId" from weight_promise
     where site_id = $1 and kind = 'picture' and looks is not null and come_as is null and sweep_id < $2`,
    { bind: [site.id, sweepId], type: QueryTypes.SELECT },
  )
  if (told.length === 0) return
  const until = Date.now() + LONGEST_MS
  const met = new Map([...(await metBytes(sequelize, sweepId))].map(([url, bytes]) => [url, { url, bytes }]))
  for (const before of new Set(told.map((one) => one.sweepId))) {
    const known = await addressesOf(sequelize, before)
    const missed = told.filter((one) => one.sweepId === before && cameOfPromise(one, met, known).word === 'gone')
    if (missed.length === 0) continue
    for (const { url, pageIds } of await newPictures(sequelize, sweepId, before, missed)) {
      if (Date.now() > until) return
      const looks = await asked(url, site)
      for (const same of missed) {
        if (!looks || !looksAlike(same.looks, looks) || !(await sharesPage(sequelize, before, same.url, pageIds)))
          continue
        await sequelize.query(
          `update weight_promise set come_as = $3 where site_id = $1 and kind = 'picture' and url = $2 and come_as is null`,
          { bind: [site.id, same.url, url] },
        )
      }
    }
  }
}

async function addressesOf(sequelize: Sequelize, sweepId: number): Promise<Set<string>> {
  const rows = await sequelize.query<{ url: string }>('select distinct url from file_toll where sweep_id = $1', {
    bind: [sweepId],
    type: QueryTypes.SELECT,
  })
  return new Set(rows.map(({ url }) => url))
}

/** Pictures that are new on pages which loaded one of those that are missed. */
function newPictures(sequelize: Sequelize, sweepId: number, before: number, missed: readonly Missed[]) {
  return sequelize.query<{ url: string; pageIds: number[] }>(
    `select url, array_agg(distinct page_id) "pageIds" from file_toll
     where sweep_id = $1 and type = 'picture' and url ~ '^https?:' and requests > 0
       and url not in (select url from file_toll where sweep_id = $2)
       and page_id in (select page_id from file_toll where sweep_id = $2 and url = any($3))
     group by url order by count(distinct page_id) desc, url limit ${MOST_LOOKED_AT}`,
    { bind: [sweepId, before, missed.map(({ url }) => url)], type: QueryTypes.SELECT },
  )
}

async function sharesPage(sequelize: Sequelize, sweepId: number, url: string, pageIds: number[]): Promise<boolean> {
  const rows = await sequelize.query(
    'select 1 from file_toll where sweep_id = $1 and url = $2 and page_id = any($3) limit 1',
    { bind: [sweepId, url, pageIds], type: QueryTypes.SELECT },
  )
  return rows.length > 0
}

/** What can't be had looks like nothing. */
async function asked(url: string, site: SiteRow): Promise<PictureLooks | null> {
  const answer = await fetchPacked(new URL(url), reachOf(site), MOST_BYTES).catch(() => null)
  return answer?.status === 200 ? looksOf(answer.plain) : null
}
