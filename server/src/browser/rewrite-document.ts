import type { CDPSession } from 'playwright-core'
import { HtmlRewriter, withHashesAllowed, type AllowedHashes, type RewritePlan } from '@unvelt/core'
import { hashesIn } from '@unvelt/gate'
import type { ReadingOrder } from './reading-order.js'

/** Larger documents go by as they are. */
const MOST_BYTES = 20e6
/** Headers that tell of the body as it came over the wire. */
const OF_THE_WIRE = new Set(['content-encoding', 'content-length', 'transfer-encoding'])

/**
 * Passes the page's own document through core's rewriter before the browser reads it, as a gate in front of the site would. To be
 * given a session of its own.
 * @param planFor What is to be done, by the address at which the document is in the end; null leaves it as it is, and it still
 *   comes the same way, so that a page with rules and one without differ in the rules alone.
 * @param onDocument Is given the document as it came, a character for each byte.
 * @param instead What the browser gets in its place. What the page's own policy forbids of it, it forbids of the whole page.
 */
export async function rewriteDocument(
  session: CDPSession,
  frameId: string,
  planFor: (url: URL) => RewritePlan | null,
  { onDocument, instead }: { onDocument?: ReadingOrder['onDocument']; instead?: string | undefined } = {},
): Promise<void> {
  session.on('Fetch.requestPaused', (paused) => {
    const { requestId, request, responseStatusCode, responseHeaders = [] } = paused
    const goOn = () => void session.send('Fetch.continueRequest', { requestId }).catch(() => {})
    if (paused.frameId !== frameId || responseStatusCode === undefined || !isPage(responseStatusCode, responseHeaders))
      return goOn()
    const plan = planFor(new URL(request.url))
    void rewritten(session, requestId, plan, (html) => onDocument?.(html, request.url))
      .then(async (came) => {
        const body = instead === undefined ? came : Buffer.from(instead, 'latin1').toString('base64')
        if (body === null) return goOn()
        await session.send('Fetch.fulfillRequest', {
          requestId,
          responseCode: responseStatusCode,
          responseHeaders: responseHeaders
            .filter(({ name }) => !OF_THE_WIRE.has(name.toLowerCase()) && !(instead !== undefined && isPolicy(name)))
            .map(({ name, value }) => ({
              name,
              value: isPolicy(name) ? withHashesAllowed(value, hashesOf(plan)) : value,
            })),
          body,
        })
      })
      .catch(goOn)
  })
  await session.send('Fetch.enable', { patterns: [{ resourceType: 'Document', requestStage: 'Response' }] })
}

const isPolicy = (name: string) => name.toLowerCase() === 'content-security-policy'

/** What the plan puts first in the page, as a policy names it. */
const hashesOf = (plan: RewritePlan | null): AllowedHashes => hashesIn(plan && !plan.idle ? plan.first : '')

type Headers = readonly { name: string; value: string }[]

/** Only HTML of an encoding that has ASCII in it goes through the rewriter, redirects and errors as they are. */
function isPage(status: number, headers: Headers): boolean {
  const type = headers.find(({ name }) => name.toLowerCase() === 'content-type')?.value ?? ''
  return status >= 200 && status < 300 && /^\s*text\/html\b/i.test(type) && !/utf-?(?:16|32)/i.test(type)
}

/** The document in base64; null where it is left alone. */
async function rewritten(
  session: CDPSession,
  requestId: string,
  plan: RewritePlan | null,
  onDocument: (html: string) => void,
): Promise<string | null> {
  const { body, base64Encoded } = await session.send('Fetch.getResponseBody', { requestId })
  const bytes = Buffer.from(body, base64Encoded ? 'base64' : 'utf8')
  const isWide = (bytes[0] === 0xff && bytes[1] === 0xfe) || (bytes[0] === 0xfe && bytes[1] === 0xff)
  if (!isWide && bytes.length <= MOST_BYTES) onDocument(bytes.toString('latin1'))
  if (!plan || plan.idle || isWide || bytes.length > MOST_BYTES) return bytes.toString('base64')
  const rewriter = new HtmlRewriter(plan)
  const out = rewriter.write(bytes.toString('latin1')) + rewriter.end()
  return Buffer.from(out, 'latin1').toString('base64')
}
