import type { IncomingMessage, ServerResponse } from 'node:http'
import { parseRuleFile, RULES_FORMAT, type Effect } from '@unvelt/core'
import type { Fernhollow } from '../cms/fernhollow.js'
import { sameKey } from '../cms/measuring.js'
import { StaleVersionError, type RuleStore } from '../cms/rule-store.js'
import { listedPages, PAGES } from '../content/pages.js'
import { sendJson, sendProblem, type Handler } from '../http/answer.js'
import { readBody, TooLargeError } from '../http/read-body.js'
import { assetRegister, inventory } from './inventory.js'

export const DESCRIBE_PATH = '/.well-known/unvelt-connector'
const BASE = '/unvelt/v1'
const MOST_BODY_BYTES = 4 << 20
const PAGES_AT_A_TIME = 200
/** What this site can do to an add-on by itself. */
const EFFECTS: Effect[] = ['skip', 'leave-out', 'hold', 'order', 'system-font', 'hint', 'keep']

/** The stand-in's side of the connector protocol; `docs/connector.md` tells every call. */
export class Connector {
  constructor(
    private readonly site: Fernhollow,
    private readonly rules: RuleStore,
    private readonly key: string,
  ) {}

  owns(path: string): boolean {
    return path === DESCRIBE_PATH || path.startsWith(`${BASE}/`)
  }

  readonly handle: Handler = async (request, response, address) => {
    if (address.pathname === DESCRIBE_PATH) return this.describe(response)
    const [, given = ''] = /^Bearer (.+)$/.exec(request.headers.authorization ?? '') ?? []
    if (!sameKey(given, this.key)) return sendProblem(response, 401, 'The connector key is missing or wrong.')
    const call = `${request.method} ${address.pathname.slice(BASE.length)}`
    switch (call) {
      case 'GET /inventory':
        return sendJson(response, { addOns: inventory(this.site.addOns) })
      case 'GET /pages':
        return this.pages(response, address)
      case 'GET /assets':
        return sendJson(response, assetRegister(this.site.addOns))
      case 'GET /rules':
        return this.getRules(response)
      case 'PUT /rules':
        return this.putRules(request, response)
      case 'POST /purge':
        return this.purge(request, response)
      case 'POST /warm':
        return this.warm(request, response, address)
      default:
        return sendProblem(response, 404, `There is no call ${call}.`)
    }
  }

  private describe(response: ServerResponse): void {
    sendJson(response, {
      protocol: 'unvelt-connector/1',
      name: 'Fernhollow Arboretum',
      cms: { name: 'Loam', version: '6.3.1' },
      base: BASE,
      ownHosts: [],
      effects: EFFECTS,
      measuring: { header: 'Unvelt-Measure', bypassesCache: true, olderRules: true, serverTiming: true },
      caches: [{ name: 'page cache', canPurge: true, canWarm: true }],
    })
  }

  private pages(response: ServerResponse, address: URL): void {
    const from = Number(address.searchParams.get('from') ?? 0)
    if (!Number.isInteger(from) || from < 0)
      return sendProblem(response, 400, 'from: expected a whole number, 0 or more.')
    const listed = listedPages()
    const pages = listed.slice(from, from + PAGES_AT_A_TIME).map(({ path, title, kind, area }) => ({
      path,
      title,
      kind,
      area,
    }))
    const next = from + pages.length < listed.length ? from + pages.length : null
    sendJson(response, { pages, next })
  }

  private getRules(response: ServerResponse): void {
    const { version, rules } = this.rules.live
    sendJson(response, { format: RULES_FORMAT, rules }, { etag: `"${version}"` })
  }

  private async putRules(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const [, expected] = /^"(\d{1,9})"$/.exec(request.headers['if-match'] ?? '') ?? []
    if (expected === undefined) return sendProblem(response, 428, 'If-Match must name the version that is replaced.')
    const body = await this.body(request, response)
    if (body === null) return
    const parsed = parseRuleFile(body.value)
    if ('problems' in parsed)
      return sendProblem(response, 422, 'The rules are malformed; nothing was changed.', { problems: parsed.problems })
    const known = new Set(this.site.addOns.map((addOn) => addOn.manifest.slug))
    const problems = parsed.file.rules.flatMap((rule, index) => [
      ...(known.has(rule.addon) ? [] : [{ at: `/rules/${index}/addon`, expected: 'an add-on of this site' }]),
      ...(EFFECTS.includes(rule.effect)
        ? []
        : [{ at: `/rules/${index}/effect`, expected: `one of ${EFFECTS.join(', ')}` }]),
    ])
    if (problems.length > 0)
      return sendProblem(response, 422, 'This site can’t obey the rules; nothing was changed.', { problems })
    try {
      const version = await this.rules.put(parsed.file.rules, Number(expected))
      sendJson(response, { version }, { etag: `"${version}"` })
    } catch (error) {
      if (!(error instanceof StaleVersionError)) throw error
      sendProblem(response, 412, 'The rules have changed meanwhile; nothing was changed.', { version: error.current })
    }
  }

  private async purge(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const paths = await this.paths(request, response)
    if (paths === null) return
    sendJson(response, { caches: [{ name: 'page cache', purged: this.site.cache.purge(paths) }] })
  }

  private async warm(request: IncomingMessage, response: ServerResponse, address: URL): Promise<void> {
    const paths = await this.paths(request, response)
    if (paths === null) return
    sendJson(response, { warmed: await this.site.warm(paths ?? PAGES.map((page) => page.path), address.origin) })
  }

  /** The body's list of paths; undefined when it names none, null when an answer has been sent already. */
  private async paths(request: IncomingMessage, response: ServerResponse): Promise<string[] | undefined | null> {
    const body = await this.body(request, response)
    if (body === null) return null
    const paths = (body.value as { paths?: unknown } | null)?.paths
    if (paths === undefined) return undefined
    if (Array.isArray(paths) && paths.every((path): path is string => typeof path === 'string')) return paths
    sendProblem(response, 422, 'paths: expected a list of paths.')
    return null
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
