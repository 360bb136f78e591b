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

const COOKIE = 'unvelt-window'

interface PreviewWindow {
  siteId: number
  previewId: string
  /** Comes with the first page, and from then on as a cookie: the pages' host name is told to outsiders, and this is not. */
  windowKey: string
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
  { siteId, previewId, windowKey, ownHost }: PreviewWindow,
): (request: IncomingMessage, response: ServerResponse) => void {
  const may = allowed(siteId, previewId)
  return (request, response) => {
    const { method = 'GET', headers } = request
    const [path, query = ''] = request.url!.split('?') as [string, string?]
    const isOpen = may.some(([methods, pattern]) => methods.includes(method) && pattern.test(path))
    if (new URLSearchParams(query).get('key') === windowKey)
      response.setHeader('set-cookie', `${COOKIE}=${windowKey}; Path=/; HttpOnly; SameSite=Strict`)
    if (!isOpen || !isFromWindow(request, windowKey)) {
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
function isFromWindow({ url, headers }: IncomingMessage, windowKey: string): boolean {
  const { host, origin, cookie = '', 'sec-fetch-site': from } = headers
  if (origin !== undefined && origin !== `http://${host}`) return false
  if (!url!.startsWith('/api/')) return true
  const hasKey = cookie.split(/;\s*/).includes(`${COOKIE}=${windowKey}`)
  return hasKey && (from === undefined || from === 'same-origin' || from === 'none')
}
