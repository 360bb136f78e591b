import { QueryTypes, type Sequelize } from 'sequelize'
import { complaintsOf, isSameComplaint, type Complaint, type Reading } from '@unvelt/core'
import type { ChangedAddOn, ComplaintView } from '@unvelt/contract'
import { failedRequests } from '../browser/failed-requests.js'
import { middleReading } from '../rule/prediction.service.js'
import { SweepRow, type InventoryEntry } from '../sweep/sweep.model.js'

/** The newest survey that read a page, and the one before it through the same lens. */
export async function lastTwo(sequelize: Sequelize, pageId: number): Promise<[SweepRow | null, SweepRow | null]> {
  const rows = await sequelize.query<{ id: number; lens_id: number }>(
    `select sweep.id, lens_id from sweep where purpose = 'survey' and variants -> 0 ->> 'rules' = 'live' and exists (
       select 1 from reading where sweep_id = sweep.id and page_id = :pageId and failure is null)
     order by sweep.id desc limit 40`,
    { replacements: { pageId }, type: QueryTypes.SELECT },
  )
  const [newest] = rows
  const earlier = rows.slice(1).find(({ lens_id }) => lens_id === newest?.lens_id)
  const load = (row: { id: number } | undefined) => (row ? SweepRow.findByPk(row.id) : Promise.resolve(null))
  return Promise.all([load(newest), load(earlier)])
}

/** What a page complained of in a sweep; null where it was not read. */
export async function complaintsIn(sweep: SweepRow | null, pageId: number): Promise<Complaint[] | null> {
  const reading = sweep && (await middleReading(sweep, pageId))
  return reading ? complaintsOfReading(reading) : null
}

const complaintsOfReading = ({ consoleErrors, requests }: Reading): Complaint[] =>
  complaintsOf({ errors: consoleErrors, failed: failedRequests(requests) })

export const withNews = (now: readonly Complaint[], then: readonly Complaint[] | null): ComplaintView[] =>
  now.map((one) => ({ ...one, isNew: then && !then.some((other) => isSameComplaint(one, other)) }))

type Versioned = Pick<InventoryEntry, 'slug' | 'name' | 'version'>

/** Add-ons that came, went, or are another version than in the sweep before. */
export function changedBetween(then: readonly Versioned[], now: readonly Versioned[]): ChangedAddOn[] {
  // An inventory that was never taken says nothing.
  if (then.length === 0 || now.length === 0) return []
  const before = new Map(then.map((one) => [one.slug, one]))
  const after = new Map(now.map((one) => [one.slug, one]))
  return [...new Set([...before.keys(), ...after.keys()])].flatMap((slug) => {
    const [was, is] = [before.get(slug), after.get(slug)]
    if (was && is && was.version === is.version) return []
    return [
      { slug, name: (is ?? was)!.name, from: was ? (was.version ?? '') : null, to: is ? (is.version ?? '') : null },
    ]
  })
}
