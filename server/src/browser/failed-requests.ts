import type { RequestRecord } from '@unvelt/core'
import { wasBlocked } from './blocked.js'

const MOST_FAILED = 200
const LONGEST = 300

/** Requests that came to nothing, in words that are the same whenever it happens: queries differ from load to load. */
export function failedRequests(requests: readonly RequestRecord[]): string[] {
  const failed = requests.filter(
    (request) => !wasBlocked(request) && (request.failure !== undefined || (request.status ?? 0) >= 400),
  )
  const words = failed.map(({ method, url, failure, status }) =>
    `${method} ${url.replace(/[?#].*$/, '')}: ${failure ?? status}`.slice(0, LONGEST),
  )
  return [...new Set(words)].slice(0, MOST_FAILED)
}
