import type { IncomingMessage, RequestListener, ServerResponse } from 'node:http'

/** What the window around a previewed page asks of Unvelt; it is given nothing else. */
const allowed = (siteId: number, previewId: string): [methods: string[], path: RegExp][] => [
  [['GET', 'HEAD'], /^\/assets\/[\w.-]+$/],
  [['GET', 'HEAD'], /^\/[\w-]+\.(?:svg|ico|png|webmanifest)$/],
  [['GET', 'HEAD'], new RegExp(`^/sites/${siteId}/preview$`)],
  [['GET'], /^\/api\/sites$/],
  [['GET'], new RegExp(`^/api/sites/${siteId}/(?:pages|drafts|steps|events)$`)],
  [['PUT'], new RegExp(`^/api/sites/${siteId}/steps$`)],
  [['GET', 'POST'], new RegExp(`^/api/sites/${siteId}/step-trials$`)],
  [['GET', 'PATCH'], new RegExp(`^/api/previews/${previewId}$`)],
]

interface PreviewWindow {
  siteId: number
  previewId: string
  /** A host name that Unvelt answers for as its own. */
  ownHost: string
}

/**
 * Answers for the window around a previewed page. It stands beside the page on a host below the same name, so that browsers take
 * the two for one site and give the page its cookies and its storage as they would outside of a frame; and it is another origin, so
 * that no script of the page can reach into it.
 * @param unvelt Unvelt itself.
 */
export function answerWindow(
  unvelt: RequestListener,
  { siteId, previewId, ownHost }: PreviewWindow,
): (request: IncomingMessage, response: ServerResponse) => void {
  const may = allowed(siteId, previewId)
  return (request, response) => {
    const { method = 'GET', headers } = request
    const [path] = request.url!.split('?') as [string]
    const isOpen = may.some(([methods, pattern]) => methods.includes(method) && pattern.test(path))
    if (!isOpen || !isFromWindow(request)) {
      response.writeHead(isOpen ? 403 : 404, { 'content-type': 'application/problem+json' })
      const title = isOpen ? 'Requests from other pages are refused.' : 'There is nothing at this address.'
      return void response.end(JSON.stringify({ type: 'about:blank', status: isOpen ? 403 : 404, title }))
    }
    // From here on it is a request of Unvelt's own interface.
    headers.host = ownHost
    if (headers.origin !== undefined) headers.origin = `http://${ownHost}`
    unvelt(request, response)
  }
}

/** The previewed page is of the same site, so whether it asks has to be looked at closely. */
function isFromWindow({ url, headers: { host, origin, 'sec-fetch-site': from } }: IncomingMessage): boolean {
  if (origin !== undefined && origin !== `http://${host}`) return false
  return !url!.startsWith('/api/') || from === undefined || from === 'same-origin' || from === 'none'
}
