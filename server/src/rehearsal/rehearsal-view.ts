import { findsNoMore, gone, isNew, type GuardResult } from '@unvelt/core'
import type { AcceptedDifference, GuardView, RehearsedPage } from '@unvelt/contract'
import type { LensRow } from '../lens/lens.model.js'
import { rulePage, type PageRow } from '../page/page.model.js'
import { compared } from '../proof/compared.js'
import { draftsKey } from './rehearsal-plan.js'
import type { AcceptedRow, RehearsalPageRow, RehearsalRow, RehearsedReading } from './rehearsal.model.js'

const COUNTED = ['requests', 'transferBytes', 'decodedBytes']
const TIMED = ['mainThreadMs', 'loadMs', 'largestPaintMs', 'blockingMs']
const MOST_LISTED = 200

/** What was accepted of it; null where anything is new since, or was accepted for other drafts. */
export function acceptanceOf(
  guard: GuardResult,
  { pageId, lensId }: Pick<RehearsalPageRow, 'pageId' | 'lensId'>,
  drafts: string,
  accepted: readonly AcceptedRow[],
): AcceptedDifference | null {
  const found = accepted.find(
    (row) => row.pageId === pageId && row.lensId === lensId && row.drafts === drafts && row.guard === guard.guard,
  )
  if (!found) return null
  return findsNoMore(guard, found.said) ? { note: found.note, acceptedAt: found.acceptedAt.toISOString() } : null
}

export function pageView(
  row: RehearsalPageRow,
  rehearsal: RehearsalRow,
  page: PageRow,
  lens: LensRow,
  accepted: readonly AcceptedRow[],
  size: { width: number; height: number } | undefined,
  leastShare: number,
): Omit<RehearsedPage, 'failedSteps'> {
  const drafts = draftsKey(rehearsal.drafts, rulePage(page))
  const guards: GuardView[] = row.guards.map((guard) => ({
    ...guard,
    accepted: guard.outcome === 'fails' ? acceptanceOf(guard, row, drafts, accepted) : null,
  }))
  const asked = (side: RehearsedReading['side']) =>
    row.readings.filter((reading) => reading.side === side).map((reading) => reading.asked)
  const [without, withRules] = [asked('without'), asked('with')]
  const isRead = row.state === 'done'
  const isCompared = isRead && without.length > 0
  return {
    pageId: row.pageId,
    path: page.path,
    title: page.title,
    kind: page.kind,
    lensId: row.lensId,
    lens: lens.name,
    state: row.state,
    failure: row.failure,
    guards,
    went: isCompared ? gone(without, withRules).slice(0, MOST_LISTED) : [],
    cameToo: isCompared ? isNew(without, withRules).slice(0, MOST_LISTED) : [],
    stayed: isRead ? [...new Set(row.readings.flatMap(({ stayed }) => stayed))].slice(0, MOST_LISTED) : [],
    predicted: rehearsal.prediction[page.path] ?? null,
    measured: isRead ? measuredOf(row, rehearsal, leastShare) : {},
    picture: size ? { x: 0, y: 0, ...size } : null,
    boxes: row.boxes,
  }
}

function measuredOf(row: RehearsalPageRow, { mode }: RehearsalRow, leastShare: number): RehearsedPage['measured'] {
  const measures = mode === 'times' ? [...COUNTED, ...TIMED] : COUNTED
  // Readings for the guards take steps and are not slowed; where there are others, these tell the figures.
  const counts = row.readings.filter(({ look }) => mode === 'guards' || look === null)
  const values = (side: RehearsedReading['side'], measure: string) =>
    counts.filter((reading) => reading.side === side).flatMap(({ figures }) => figures[measure] ?? [])
  const figures = compared(
    measures.map((measure) => ({ measure, before: values('without', measure), after: values('with', measure) })),
    leastShare,
  )
  return Object.fromEntries(measures.map((measure, n) => [measure, figures[n]!]))
}
