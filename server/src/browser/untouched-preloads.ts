import type { FileUse, RequestRecord } from '@unvelt/core'

/**
 * Scripts and styles that came because a preload asked for them and that the page was never given to run or apply. Of them
 * the browser tells nothing, since nothing was done with them: all of each is idle.
 *
 * @param touched Addresses of the scripts and styles that the page has.
 */
export const untouchedPreloads = (requests: readonly RequestRecord[], touched: ReadonlySet<string>): FileUse[] =>
  requests
    .filter((request) => cameAhead(request) && !touched.has(request.url))
    .map(({ id }) => ({ requestId: id, used: [] }))

const cameAhead = ({ initiator, type, endedMs, failure, decodedBytes }: RequestRecord) =>
  initiator.type === 'preload' &&
  (type === 'script' || type === 'style') &&
  endedMs !== null &&
  failure === undefined &&
  decodedBytes > 0
