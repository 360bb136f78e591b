import { logLines } from './log-lines.js'

/** Requests for what is gone, by the path that was asked for. */
export interface MissedRequest {
  path: string
  times: number
  /** Pages that asked for it, as far as they were told. */
  from: string[]
}

const MOST_TOLD = 100
const MOST_FROM = 5

/**
 * What visitors asked for and did not get (404, 410) of some files or folders since a moment, the most asked for first. Lines that
 * are none of the format are passed over.
 * @param paths Paths of files, or of folders with a `/` at their end.
 */
export function missedRequests(log: string, since: Date, paths: readonly string[]): MissedRequest[] {
  const files = new Set(paths.filter((path) => !path.endsWith('/')))
  const folders = paths.filter((path) => path.endsWith('/') && path.length > 1)
  const found = new Map<string, { times: number; from: Set<string> }>()
  for (const { target, status, referrer } of logLines(log, since)) {
    if (status !== '404' && status !== '410') continue
    const path = target.replace(/[?#].*$/, '')
    if (!files.has(path) && !folders.some((folder) => path.startsWith(folder))) continue
    const one = found.get(path) ?? { times: 0, from: new Set<string>() }
    one.times++
    if (referrer && referrer !== '-' && one.from.size < MOST_FROM) one.from.add(referrer)
    found.set(path, one)
  }
  return [...found]
    .map(([path, { times, from }]) => ({ path, times, from: [...from] }))
    .sort((a, b) => b.times - a.times || a.path.localeCompare(b.path))
    .slice(0, MOST_TOLD)
}
