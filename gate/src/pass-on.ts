import { request as httpRequest, type Agent as HttpAgent, type IncomingMessage, type ServerResponse } from 'node:http'
import { request as httpsRequest, type Agent as HttpsAgent } from 'node:https'
import { pipeline } from 'node:stream'
import { idlePlan, throughGate, type RewritePlan } from '@unvelt/core'
import type { GateSite } from './gate-site.js'
import { isVisit, pagePolicy, passedBack, sentOn } from './headers.js'
import { PageRewriter, PageStream, recoding } from './page-stream.js'
import { say } from './say.js'

/** Nothing moves for so long, and the site is taken for gone. */
const SILENCE_MS = 60_000

export interface Agents {
  http: HttpAgent
  https: HttpsAgent
}

/** Sends one request on to the site and its answer back, a piece at a time, at the pace of whoever reads it. */
export function passOn(
  site: GateSite,
  gate: string,
  agents: Agents,
  request: IncomingMessage,
  response: ServerResponse,
): void {
  const url = new URL(request.url!, site.origin)
  const isPage = isVisit(request)
  // What is to be done is found out while the site thinks.
  const plan = isPage ? planOf(site, url) : null
  plan?.catch(() => {})
  const failed = (error: unknown) => {
    if (response.headersSent) return void response.destroy()
    const why = site.whyFailed?.(error) ?? `${url.host} gave no answer: ${(error as Error).message}`
    say(response, 502, 'The site gave no answer', why)
  }
  void site
    .headers(url)
    .then((own) => ask(site, url, { request, response, headers: sentOn(request, site, gate, own), agents }, true))
    .then(async (answer) => {
      if (response.destroyed) return void answer.destroy()
      if (isPage) site.opened?.(url, answer.statusCode!)
      await passBack(site, gate, { answer, request, response, plan: () => plan ?? planOf(site, url) })
    })
    .catch(failed)
}

const planOf = async (site: GateSite, url: URL): Promise<RewritePlan> => (await site.plan(url)) ?? idlePlan(url.href)

interface Sent {
  request: IncomingMessage
  response: ServerResponse
  headers: string[]
  agents: Agents
}

function ask(site: GateSite, url: URL, sent: Sent, mayRepeat: boolean): Promise<IncomingMessage> {
  const { request, response, headers, agents } = sent
  const hasBody = request.headers['content-length'] !== undefined || request.headers['transfer-encoding'] !== undefined
  return new Promise((resolve, reject) => {
    const isSafe = url.protocol === 'https:'
    const outgoing = (isSafe ? httpsRequest : httpRequest)({
      hostname: url.hostname.replace(/^\[|\]$/g, ''),
      port: url.port || (isSafe ? 443 : 80),
      path: request.url!,
      method: request.method,
      headers: headers as unknown as NodeJS.Dict<string>,
      agent: isSafe ? (site.safely ?? agents.https) : agents.http,
      setHost: false,
      ...(site.lookup && { lookup: site.lookup }),
    })
    outgoing.setTimeout(SILENCE_MS, () => outgoing.destroy(new Error('It did not answer in time.')))
    outgoing.once('error', (error) => {
      // The site had let go of a line that was kept open.
      if (outgoing.reusedSocket && mayRepeat && !hasBody && !response.destroyed)
        ask(site, url, sent, false).then(resolve, reject)
      else reject(error)
    })
    // Whoever asked has gone.
    response.once('close', () => {
      if (!response.writableFinished) outgoing.destroy()
    })
    outgoing.once('response', (answer) => {
      if (!mayRepeat || hasBody || !site.triesAgain) return resolve(answer)
      site.triesAgain(answer.statusCode!).then((again) => {
        if (!again) return resolve(answer)
        answer.resume()
        site.headers(url).then((own) => {
          const names = new Set(Object.keys(own).map((name) => name.toLowerCase()))
          const rest = headers.filter((_, i) => !names.has(headers[i - (i % 2)]!.toLowerCase()))
          return ask(site, url, { ...sent, headers: [...rest, ...Object.entries(own).flat()] }, false)
        }).then(resolve, reject) // prettier-ignore
      }, reject)
    })
    if (hasBody) pipeline(request, outgoing, (error) => error && reject(error))
    else outgoing.end()
  })
}

interface Passing {
  answer: IncomingMessage
  request: IncomingMessage
  response: ServerResponse
  plan: () => Promise<RewritePlan>
}

async function passBack(site: GateSite, gate: string, { answer, request, response, plan }: Passing): Promise<void> {
  const status = answer.statusCode!
  const coded = isHtml(answer) ? recoding(answer.headers['content-encoding']) : null
  const url = new URL(request.url!, site.origin)
  const given = coded && (await plan())
  // Errors have no rules, and keep inside all the same.
  const applied = given && throughGate(status >= 200 && status < 300 ? given : idlePlan(url.href), site.origin, gate)
  const headers = passedBack(answer, site, gate, applied && applied.first)
  if (coded) replaceCoding(headers, coded.coding)
  response.writeHead(status, answer.statusMessage, headers)
  if (request.method === 'HEAD' || status === 204 || status === 304) {
    answer.resume()
    response.end()
    return
  }
  const page = applied && new PageRewriter({ ...applied, policy: pagePolicy(site, gate) })
  if (!page || !coded) return passPlain(answer, response)
  if (coded.off.length === 0) return passRewritten(answer, response, page)
  pipeline([answer, ...coded.off, new PageStream(page), ...coded.on, response], (error) => broken(error, response))
}

/** A body that broke off must not look like a whole one, so whoever reads it loses the line. */
function broken(error: Error | null | undefined, response: ServerResponse): void {
  if (error) response.destroy()
}

/** Most of what goes through is no page: what a pipeline sets up for each would cost more than passing it on. */
function passPlain(answer: IncomingMessage, response: ServerResponse): void {
  answer.once('error', (error) => broken(error, response))
  answer.pipe(response)
}

/** A page that came unpacked, at the pace of whoever reads it. */
function passRewritten(answer: IncomingMessage, response: ServerResponse, page: PageRewriter): void {
  answer.once('error', (error) => broken(error, response))
  const orBreak = (go: () => void) => {
    try {
      go()
    } catch (error) {
      broken(error as Error, response)
    }
  }
  answer.on('data', (chunk: Buffer) =>
    orBreak(() => {
      const piece = page.take(chunk)
      if (piece.length > 0 && !response.write(piece, 'latin1')) answer.pause()
    }),
  )
  response.on('drain', () => answer.resume())
  answer.once('end', () => orBreak(() => response.end(page.rest(), 'latin1')))
}

/** HTML of an encoding that has ASCII in it, and whole. */
function isHtml({ statusCode, headers }: IncomingMessage): boolean {
  const type = headers['content-type'] ?? ''
  return statusCode !== 206 && /^\s*text\/html\b/i.test(type) && !/utf-?(?:16|32)/i.test(type)
}

function replaceCoding(headers: string[], coding: string | null): void {
  for (let i = headers.length - 2; i >= 0; i -= 2)
    if (headers[i]!.toLowerCase() === 'content-encoding') headers.splice(i, 2)
  if (coding !== null) headers.push('content-encoding', coding)
}
