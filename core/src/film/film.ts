import type { Attribution } from '../attribution/attribute.js'
import type { Reading } from '../reading/reading.js'
import { wentOut } from '../reading/totals.js'

/** What came for one payer while a page loaded. Milliseconds since the load began. */
export interface FilmLane {
  payer: string
  transferBytes: number
  spans: [from: number, to: number][]
}

/** The requests of a load by who pays for them, the earliest payer first; what was not over when the reading ended, ends with it. */
export function filmLanes(reading: Reading, attribution: Attribution): FilmLane[] {
  const last = reading.requests.reduce((end, { endedMs, startedMs }) => Math.max(end, endedMs ?? startedMs), 0)
  const lanes = new Map<string, FilmLane>()
  for (const request of [...reading.requests].sort((a, b) => a.startedMs - b.startedMs)) {
    if (!wentOut(request)) continue
    const { payer } = attribution.requests.get(request.id)!
    const lane = lanes.get(payer) ?? { payer, transferBytes: 0, spans: [] }
    lanes.set(payer, lane)
    lane.transferBytes += request.transferBytes
    lane.spans.push([request.startedMs, request.endedMs ?? last])
  }
  return [...lanes.values()]
}

/**
 * Frames that show something else than the one before, by the moment at which they were painted; those from before the load are the
 * empty window, of which the last one stands for its beginning.
 * @param frames In the order in which they were painted. `sameAs` says whether two show the same.
 */
export function filmFrames<F extends { at: number }>(frames: readonly F[], sameAs: (a: F, b: F) => boolean): F[] {
  const before = frames.filter(({ at }) => at <= 0)
  const shown = [...before.slice(-1).map((frame) => ({ ...frame, at: 0 })), ...frames.filter(({ at }) => at > 0)]
  return shown.filter((frame, n) => n === 0 || !sameAs(shown[n - 1]!, frame))
}
