import type { IncomingHttpHeaders, IncomingMessage, ServerResponse } from 'node:http'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { DELIVERY_HOST, type Fernhollow } from '../cms/fernhollow.js'
import { sameKey } from '../cms/measuring.js'
import { Refusal } from '../cms/refusal.js'
import type { RuleStore } from '../cms/rule-store.js'
import { send, sendJson, sendProblem, type Handler } from '../http/answer.js'
import { readBody, TooLargeError } from '../http/read-body.js'
import { actionCalls } from './action-calls.js'
import { addOnCalls } from './add-on-calls.js'
import type { Calls, Reply } from './call.js'
import { copyCalls } from './copy-calls.js'
import { ruleCalls, SITE_EFFECTS } from './rule-calls.js'
import { siteCalls } from './site-calls.js'
import { upkeepCalls } from './upkeep-calls.js'

export const DESCRIBE_PATH = '/.well-known/unvelt-connector'
const BASE = '/unvelt/v1'
const MOST_BODY_BYTES = 4 << 20

/** The key stands in a header of its own where `Authorization` is for what stands in front of the site. */
const keyGiven = ({ authorization = '', 'unvelt-key': own }: IncomingHttpHeaders): string =>
  typeof own === 'string' ? own : (/^Bearer (.+)$/.exec(authorization)?.[1] ?? '')

/** The stand-in's side of the connector protocol; `docs/connector.md` tells every call. */
export class Connector {
  private readonly calls: Calls

  constructor(
    site: Fernhollow,
    rules: RuleStore,
    private readonly key: string,
    private readonly sendsSpans: boolean,
  ) {
    this.calls = {
      ...siteCalls(site),
      ...ruleCalls(site, rules),
      ...addOnCalls(site),
      ...upkeepCalls(site),
      ...copyCalls(site),
      ...actionCalls(site),
    }
  }

  owns(path: string): boolean {
    return path === DESCRIBE_PATH || path.startsWith(`${BASE}/`)
  }

  readonly handle: Handler = async (request, response, address) => {
    if (address.pathname === DESCRIBE_PATH) return this.describe(response, address)
    if (!sameKey(keyGiven(request.headers), this.key))
      return sendProblem(response, 401, 'The connector key is missing or wrong.')
    const { method = 'GET' } = request
    const path = address.pathname.slice(BASE.length)
    const found = this.find(`${method} ${path}`)
    if (!found) return this.noSuchCall(response, method, path)
    const body = await this.body(request, response)
    if (body === null) return
    try {
      await reply(response, await found.run({ address, headers: request.headers, body: body.value, name: found.name }))
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      sendProblem(response, error.status, error.message, error.more)
    }
  }

  private find(call: string): { run: Calls[string]; name: string } | null {
    const exact = Object.hasOwn(this.calls, call) ? this.calls[call] : undefined
    if (exact) return { run: exact, name: '' }
    for (const [pattern, run] of Object.entries(this.calls)) {
      const [before, after] = pattern.split('*') as [string, string?]
      if (after === undefined || !call.startsWith(before) || !call.endsWith(after)) continue
      const name = call.slice(before.length, call.length - after.length)
      // Names are slugs and numbers; whatever else is asked for is not there.
      if (/^[\w.-]+$/.test(name)) return { run, name }
    }
    return null
  }

  private noSuchCall(response: ServerResponse, method: string, path: string): void {
    const others = ['GET', 'PUT', 'POST', 'DELETE'].filter((other) => other !== method && this.find(`${other} ${path}`))
    if (others.length === 0) return sendProblem(response, 404, `There is no call ${method} ${path}.`)
    response.setHeader('allow', others.join(', '))
    sendProblem(response, 405, `${path} takes ${others.join(', ')}.`)
  }

  private describe(response: ServerResponse, address: URL): void {
    const port = address.port ? `:${address.port}` : ''
    sendJson(response, {
      protocol: 'unvelt-connector/1',
      name: 'Fernhollow Arboretum',
      cms: { name: 'Loam', version: '6.3.1' },
      base: BASE,
      ownHosts: [DELIVERY_HOST + port],
      effects: SITE_EFFECTS,
      lazyContent: true,
      firstFiles: true,
      measuring: {
        header: 'Unvelt-Measure',
        bypassesCache: true,
        olderRules: true,
        serverTiming: true,
        spans: this.sendsSpans,
        trials: true,
        marks: true,
        drafts: true,
        addOns: true,
      },
      caches: [
        { name: 'page cache', canPurge: true, canWarm: true },
        { name: 'glued files', canPurge: true, canWarm: false },
        { name: 'generated styles', canPurge: true, canWarm: false },
        { name: 'delivery proxy', canPurge: false, canWarm: false },
      ],
      calls: Object.keys(this.calls),
    })
  }

  private async body(request: IncomingMessage, response: ServerResponse): Promise<{ value: unknown } | null> {
    try {
      const text = await readBody(request, MOST_BODY_BYTES)
      return { value: text === '' ? {} : JSON.parse(text) }
    } catch (error) {
      if (error instanceof TooLargeError) {
        // What is still coming is thrown away, and the line closed behind the answer.
        request.resume()
        response.setHeader('connection', 'close')
        sendProblem(response, 413, `The body has ${error.message}.`)
      } else sendProblem(response, 400, `The body is not JSON: ${(error as Error).message}`)
      return null
    }
  }
}

async function reply(response: ServerResponse, { json, text, status = 200, headers = {} }: Reply): Promise<void> {
  if (!text) return send(response, status, { 'content-type': 'application/json', ...headers }, JSON.stringify(json))
  response.writeHead(status, { 'content-type': 'text/plain; charset=utf-8', ...headers })
  await pipeline(Readable.from(text), response).catch(() => {})
}
