import { attribute, inlinePayer, type AttributionSources, type InlineCode, type Reading } from '@unvelt/core'
import { QueryTypes, type Sequelize } from 'sequelize'
import { AddOnRow, NO_ADD_ON } from '../add-on/add-on.model.js'
import type { SweepRow } from '../sweep/sweep.model.js'

/** Code that is the page's own differs from page to page; what was pasted is the same in several. */
const PAGES_THAT_TELL = 2
/** Less is a switch or two of the template's and no add-on. */
const LEAST_BYTES = 40
const MOST_A_PAGE = 50

/**
 * Inline scripts that nobody is known to pay for, and that stand word for word in several pages, become snippets of the
 * inventory by themselves; the sweep at hand knows them from then on.
 *
 * @returns pages of the sweep that were worked out without knowing it, and have to be again.
 */
export async function learnSnippets(
  sequelize: Sequelize,
  sweep: SweepRow,
  pageId: number,
  reading: Reading,
): Promise<number[]> {
  const codes = new Map(unknownCode(reading, sweep.sources).map((code) => [code.hash, code]))
  if (codes.size === 0) return []
  const { siteId } = sweep
  const hashes = [...codes.keys()]
  await sequelize.query(
    `insert into inline_seen (site_id, hash, page_id) select $1, hash, $2 from unnest($3::text[]) hash
     on conflict do nothing`,
    { bind: [siteId, pageId, hashes], type: QueryTypes.INSERT },
  )
  const learnt = await sequelize.query<{ hash: string; pages: number[] }>(
    `select hash, array_agg(page_id) pages from inline_seen where site_id = :siteId and hash in (:hashes)
     group by hash having count(*) >= :tell`,
    { replacements: { siteId, hashes, tell: PAGES_THAT_TELL }, type: QueryTypes.SELECT },
  )
  if (learnt.length === 0) return []
  await AddOnRow.bulkCreate(
    learnt.map(({ hash }) => ({
      ...NO_ADD_ON,
      siteId,
      slug: inlinePayer(hash),
      kind: 'snippet',
      name: nameOf(codes.get(hash)!),
      summary: 'Found by a reading: the same code stands in several pages. Nobody has said what it is.',
      source: 'reading' as const,
    })),
    { ignoreDuplicates: true },
  )
  const known = learnt.map(({ hash }) => ({ hash, addon: inlinePayer(hash) }))
  const [row] = await sequelize.query<{ sources: AttributionSources }>(
    `update sweep set sources = jsonb_set(sources, '{inline}', (sources -> 'inline') || :known::jsonb)
     where id = :sweep returning sources`,
    { replacements: { sweep: sweep.id, known: JSON.stringify(known) }, type: QueryTypes.SELECT },
  )
  sweep.sources = row!.sources
  return [...new Set(learnt.flatMap(({ pages }) => pages))].filter((page) => page !== pageId)
}

const nameOf = ({ elementId, hash }: InlineCode) =>
  elementId ? `Code with the id ${elementId.slice(0, 80)}` : `Code ${hash}`

function unknownCode(reading: Reading, sources: AttributionSources): InlineCode[] {
  const { inlineCode } = attribute(reading, sources)
  return reading.inlineCode
    .filter(({ type, bytes }, index) => type === 'script' && bytes >= LEAST_BYTES && inlineCode[index] === null)
    .slice(0, MOST_A_PAGE)
}
