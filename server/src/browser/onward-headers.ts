import type { CDPSession } from 'playwright-core'
import { MEASURING_HEADER } from '../site-http/measuring-header.js'

/** What a request goes with that a step sets off: of a page that is gone to, or of a form that is sent. Null for nothing. */
export type HeaderOnward = (url: URL, method: string) => string | null

const KINDS = ['Document', 'XHR', 'Fetch'] as const

/**
 * Gives the requests that steps set off the measuring header, so that the next page is made under the same rules, and a form is
 * taken back. To be given a session of its own.
 */
export async function addHeadersOnward(session: CDPSession, headerFor: HeaderOnward): Promise<void> {
  session.on('Fetch.requestPaused', ({ requestId, request, resourceType }) => {
    const { url, method } = request
    // Only whole pages and what is sent: the parts of a page come as they do for everybody.
    const header = resourceType === 'Document' || method === 'POST' ? headerFor(new URL(url), method) : null
    const headers =
      header === null
        ? undefined
        : [...Object.entries(request.headers), [MEASURING_HEADER, header]].map(([name, value]) => ({
            name: name!,
            value: value!,
          }))
    void session.send('Fetch.continueRequest', { requestId, ...(headers && { headers }) }).catch(() => {})
  })
  await session.send('Fetch.enable', {
    patterns: KINDS.map((resourceType) => ({ resourceType, requestStage: 'Request' as const })),
  })
}
