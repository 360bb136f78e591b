import { sparesMost } from '@unvelt/core'
import type { GentleSearch } from '@unvelt/contract'
import { LensRow } from '../lens/lens.model.js'
import { PageRow } from '../page/page.model.js'
import { RehearsalPageRow, RehearsalRow } from '../rehearsal/rehearsal.model.js'
import type { GentleSearchRow } from './gentle.model.js'
import { loaded } from './loaded.js'

/** A search as it is shown, with what the page came to without the rule, and under it as it was. */
export async function gentleView(row: GentleSearchRow): Promise<GentleSearch> {
  const { rehearsalId, pageId, lensId } = row
  const [page, lens, view, rehearsal] = await Promise.all([
    PageRow.findByPk(pageId),
    LensRow.findByPk(lensId, { paranoid: false }),
    RehearsalPageRow.findOne({ where: { rehearsalId, pageId, lensId } }),
    RehearsalRow.findByPk(rehearsalId),
  ])
  const of = (side: 'with' | 'without') =>
    loaded(
      (view?.readings ?? []).filter((reading) => reading.side === side && reading.look).map(({ figures }) => figures),
    )
  return {
    id: row.id,
    draftId: row.draftId,
    addon: row.addon,
    rehearsalId,
    path: page?.path ?? '',
    kind: page?.kind ?? '',
    lens: lens?.name ?? '',
    reading: row.state === 'running' && rehearsal?.state === 'running',
    state: row.state,
    failure: row.failure,
    effects: row.effects,
    tries: row.tries,
    found: sparesMost(row.tries),
    without: of('without'),
    asItWas: of('with'),
    startedAt: row.startedAt.toISOString(),
    finishedAt: row.finishedAt?.toISOString() ?? null,
  }
}
