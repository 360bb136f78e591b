import type { RequestRecord } from '../reading/reading.js'

/** Who asked for a request, and how. */
export interface Asker {
  /** Address of the file that asked; null where the browser could not tell. */
  url: string | null
  how: 'redirect' | 'script' | 'style' | 'tag'
}

/** Who asked for a request: by the redirect before it, the topmost frame of its stack, or the document or style that names it. */
export function whoAsked(
  request: RequestRecord,
  byId: ReadonlyMap<string, RequestRecord>,
  byUrl: ReadonlyMap<string, RequestRecord>,
): Asker {
  const redirecting = request.redirectedFrom ? byId.get(request.redirectedFrom) : undefined
  if (redirecting) return { url: redirecting.url, how: 'redirect' }
  const { initiator } = request
  const url = initiator.stack?.[0]?.url ?? initiator.url ?? null
  if (initiator.type === 'script') return { url, how: 'script' }
  return { url, how: url !== null && byUrl.get(url)?.type === 'style' ? 'style' : 'tag' }
}
