import type { CDPSession, Page } from 'playwright-core'
import { accessFor, type AccessHeaders } from '../site-http/site-access.js'
import type { ReadingOrder } from './reading-order.js'

/** A request that waits for its headers. */
export interface Asked {
  url: string
  method: string
  /** As the browser names it: `Document`, `Script` … */
  type: string
}

/**
 * Lets a page of a site in that is closed to the public: every request to the site's own hosts goes with the headers by which it lets
 * somebody in. One that is open to all is left as it is.
 * @param more What a request goes with besides; two interceptors would each take off what the other has put on.
 * @returns whether it was closed, and so `more` is seen to.
 */
export async function letIn(
  page: Page,
  { ownHosts, url }: Pick<ReadingOrder, 'ownHosts' | 'url'>,
  more: (asked: Asked) => Record<string, string>,
): Promise<boolean> {
  const hosts = [...new Set([new URL(url).host, ...(ownHosts ?? [])])]
  const found = await Promise.all(hosts.map(async (host) => [host, await accessFor(host)] as const))
  const access = new Map(found.filter(([, headers]) => Object.keys(headers).length > 0))
  if (access.size > 0) await sendAlong(await page.context().newCDPSession(page), access, more)
  return access.size > 0
}

async function sendAlong(
  session: CDPSession,
  access: ReadonlyMap<string, AccessHeaders>,
  more: (asked: Asked) => Record<string, string>,
): Promise<void> {
  const all = [...access.values()].flatMap((headers) => Object.entries(headers))
  const isOurs = (name: string, value: string) =>
    all.some(([own, secret]) => own === name.toLowerCase() && secret === value)
  session.on('Fetch.requestPaused', ({ requestId, request, resourceType }) => {
    const own = URL.canParse(request.url) ? access.get(new URL(request.url).host) : undefined
    // A redirect carries them on to others, and off they come. What the page itself sends under such a name is its own business.
    const kept = Object.entries(request.headers).filter(([name, value]) => !isOurs(name, value))
    const sent = new Set(kept.map(([name]) => name.toLowerCase()))
    const added = [
      ...Object.entries(own ?? {}).filter(([name]) => !sent.has(name)),
      ...Object.entries(more({ url: request.url, method: request.method, type: resourceType })),
    ]
    const changes = added.length > 0 || kept.length < Object.keys(request.headers).length
    const headers = [...kept, ...added].map(([name, value]) => ({ name, value }))
    void session.send('Fetch.continueRequest', { requestId, ...(changes && { headers }) }).catch(() => {})
  })
  await session.send('Fetch.enable', { patterns: [{ urlPattern: '*', requestStage: 'Request' }] })
}
