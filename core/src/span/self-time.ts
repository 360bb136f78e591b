import type { Span } from './span.js'

/**
 * Milliseconds of each span's own: the time in which it was at work and nothing that it called was. What works side by side
 * shares the time, so that all own times together are never more than the outermost spans took. A span counts only as long as
 * the one that called it; of spans that call each other in a circle the first is taken for an outermost one.
 *
 * @returns By span id.
 */
export function selfTimes(spans: readonly Span[]): Map<string, number> {
  const within = clipped(spans)
  const changes: { at: number; span: number; isEnd: boolean }[] = []
  within.forEach(({ from, to }, span) => {
    if (to > from) changes.push({ at: from, span, isEnd: false }, { at: to, span, isEnd: true })
  })
  changes.sort((a, b) => a.at - b.at || Number(a.isEnd) - Number(b.isEnd))
  const own = new Float64Array(spans.length)
  /** Whoever works at the moment takes an equal part of it: this much had each by now that works since the beginning. */
  let share = 0
  let working = 0
  let before = 0
  const since = new Float64Array(spans.length)
  const isOn = new Uint8Array(spans.length)
  const callees = new Int32Array(spans.length)
  const begin = (span: number) => {
    since[span] = share
    working++
  }
  const stop = (span: number) => {
    own[span]! += share - since[span]!
    working--
  }
  for (const { at, span, isEnd } of changes) {
    if (working > 0) share += (at - before) / working
    before = at
    const { parent } = within[span]!
    if (isEnd) {
      isOn[span] = 0
      if (callees[span] === 0) stop(span)
      if (parent >= 0 && --callees[parent]! === 0 && isOn[parent] === 1) begin(parent)
    } else {
      isOn[span] = 1
      if (callees[span] === 0) begin(span)
      if (parent >= 0 && callees[parent]!++ === 0 && isOn[parent] === 1) stop(parent)
    }
  }
  return new Map(spans.map(({ spanId }, n) => [spanId, own[n]!]))
}

/** Each span from its beginning to its end, as far as those lie within its caller's. `parent` is a place in the list, or -1. */
function clipped(spans: readonly Span[]): { from: number; to: number; parent: number }[] {
  const place = new Map(spans.map(({ spanId }, n) => [spanId, n]))
  const parents = spans.map(({ parentId }, n) => {
    const parent = parentId === null ? undefined : place.get(parentId)
    return parent === undefined || parent === n ? -1 : parent
  })
  const below: number[][] = spans.map(() => [])
  parents.forEach((parent, n) => parent >= 0 && below[parent]!.push(n))
  const result: { from: number; to: number; parent: number }[] = new Array(spans.length)
  const settle = (root: number) => {
    const { startMs, endMs } = spans[root]!
    result[root] = { from: startMs, to: endMs, parent: -1 }
    const waiting = [root]
    for (let parent = waiting.pop(); parent !== undefined; parent = waiting.pop()) {
      const outer = result[parent]!
      for (const n of below[parent]!) {
        if (result[n]) continue
        const { startMs: from, endMs: to } = spans[n]!
        const clamp = (at: number) => Math.min(Math.max(at, outer.from), outer.to)
        result[n] = { from: clamp(from), to: clamp(to), parent }
        waiting.push(n)
      }
    }
  }
  parents.forEach((parent, n) => parent < 0 && settle(n))
  spans.forEach((_, n) => result[n] ?? settle(n))
  return result
}
