import { plainToInstance, type ClassConstructor } from 'class-transformer'
import { validateSync, type ValidationError } from 'class-validator'
import type { Response } from 'undici'
import { parseRuleFile, RULES_FORMAT, type Rule } from '@unvelt/core'
import {
  ActionsAnswer,
  AddOnRemovedAnswer,
  AddOnStateAnswer,
  AssetsAnswer,
  CompactedAnswer,
  ConnectorDescription,
  DraftsKeptAnswer,
  DraftsRemovedAnswer,
  InventoryAnswer,
  KeepingsAnswer,
  KeepingsRemovedAnswer,
  LeftoversAnswer,
  LeftoversRemovedAnswer,
  PagesAnswer,
  PurgeAnswer,
  RestoredAnswer,
  ScratchAnswer,
  ScratchRemovedAnswer,
  CopiesAnswer,
  CopyGivenAnswer,
  ShelfAnswer,
  SnapshotAnswer,
  SnapshotInsideAnswer,
  SnapshotsAnswer,
  UseEvidenceAnswer,
  VersionAnswer,
  WarmAnswer,
} from '@unvelt/contract'
import { OutOfReach, type Reach } from '../reach/reach.js'
import { keyHeaders } from './key-headers.js'
import { boundedText, isOfCertificate, siteFetch, whyUnreachable } from './site-fetch.js'

export const DESCRIBE_PATH = '/.well-known/unvelt-connector'
const MOST_ANSWER_BYTES = 32e6
const MOST_PARTS = 200_000
/** What stands before a site says so while the site is started anew. */
const AWAY = new Set([502, 503, 504])

/** A connector that can't be used, and why, in a sentence for the maintainer. */
export class ConnectorError extends Error {
  constructor(
    message: string,
    /** What is at fault, so that a form can say it in the right place. */
    readonly fault: 'address' | 'key' | 'connector' | 'stale' | 'reach' | 'access' | 'certificate' = 'connector',
  ) {
    super(message)
  }
}

/** Asks whether a site has a connector, and what it can do. Needs no key. */
export async function describeConnector(origin: string, reach: Reach): Promise<ConnectorDescription> {
  const { host } = new URL(origin)
  const response = await siteFetch(origin + DESCRIBE_PATH, { reach }).catch((error: unknown) => {
    throw unreachable(error, host)
  })
  if (isLocked(response.status)) throw new ConnectorError(lockedWords(host, response.status), 'access')
  if (response.status >= 500)
    throw new ConnectorError(`${host} answered ${response.status}: the site itself is in trouble.`, 'address')
  if (response.status !== 200)
    throw new ConnectorError(
      `${host} answers, but has no connector: ${DESCRIBE_PATH} gave ${response.status}.`,
      'address',
    )
  return answerOf(ConnectorDescription, response, DESCRIBE_PATH)
}

/** Answers of a site that is closed to the public. */
export const isLocked = (status: number): boolean => status === 401 || status === 403

/** What is said of a closed site to whoever has nothing that opens it. */
export const lockedWords = (host: string, status: number): string =>
  status === 401
    ? `${host} is closed to the public: it asks for a name and a password (401). Enter them, or look whether they are right.`
    : `${host} is closed to the public: it refuses us (403). It may want a header, or a name and a password; enter them, or look whether they are right.`

export const unreachable = (error: unknown, host: string) =>
  new ConnectorError(
    whyUnreachable(error, host),
    ((error as Error).cause ?? error) instanceof OutOfReach
      ? 'reach'
      : isOfCertificate(error)
        ? 'certificate'
        : 'address',
  )

/** Speaks the connector protocol with one site; `docs/connector.md` describes it. */
export class ConnectorClient {
  constructor(
    private readonly origin: string,
    private readonly base: string,
    private readonly key: string,
    private readonly reach: Reach,
  ) {}

  inventory = () => this.ask(InventoryAnswer, 'GET', '/inventory')
  assets = () => this.ask(AssetsAnswer, 'GET', '/assets')
  actions = () => this.ask(ActionsAnswer, 'GET', '/actions')
  purge = (paths: string[]) => this.ask(PurgeAnswer, 'POST', '/purge', { paths })
  warm = (paths: string[]) => this.ask(WarmAnswer, 'POST', '/warm', { paths })

  snapshots = async () => (await this.ask(SnapshotsAnswer, 'GET', '/snapshots')).snapshots
  makeSnapshot = (name: string) => this.ask(SnapshotAnswer, 'POST', '/snapshots', { name })
  insideSnapshot = (id: number) => this.ask(SnapshotInsideAnswer, 'GET', `/snapshots/${id}`)
  partsOfSnapshot = async (id: number) => (await this.insideSnapshot(id)).parts
  restoreAll = (id: number) => this.ask(RestoredAnswer, 'POST', `/snapshots/${id}/restore`, {})
  restorePart = (id: number, addOn: string) => this.ask(RestoredAnswer, 'POST', `/snapshots/${id}/restore`, { addOn })
  switchAddOn = (slug: string, active: boolean) =>
    this.ask(AddOnStateAnswer, 'PUT', `/add-ons/${encodeURIComponent(slug)}/active`, { active })
  setFeatures = (slug: string, features: Record<string, boolean>) =>
    this.ask(AddOnStateAnswer, 'PUT', `/add-ons/${encodeURIComponent(slug)}/features`, { features })
  removeAddOn = (slug: string) => this.ask(AddOnRemovedAnswer, 'DELETE', `/add-ons/${encodeURIComponent(slug)}`)
  leftovers = async () => (await this.ask(LeftoversAnswer, 'GET', '/leftovers')).leftovers
  removeLeftovers = (ids: string[]) => this.ask(LeftoversRemovedAnswer, 'POST', '/leftovers/remove', { ids })

  keepings = async () => (await this.ask(KeepingsAnswer, 'GET', '/keepings')).keepings
  removeKeepings = async (id: string, olderThanDays: number) =>
    (await this.ask(KeepingsRemovedAnswer, 'POST', '/keepings/remove', { id, olderThanDays })).removed
  compact = async (tables: string[]) => (await this.ask(CompactedAnswer, 'POST', '/tables/compact', { tables })).tables

  pages = (): Promise<PagesAnswer['pages']> => this.allParts(PagesAnswer, '/pages', ({ pages }) => pages)

  /** What content uses; nothing where the site's connector doesn't tell. */
  async uses(calls: readonly string[] | undefined): Promise<UseEvidenceAnswer['uses']> {
    if (calls && !calls.includes('GET /use-evidence')) return []
    return this.allParts(UseEvidenceAnswer, '/use-evidence', ({ uses }) => uses)
  }

  /** In the combined log format. */
  async accessLog(): Promise<string> {
    return boundedText(await this.send('GET', '/access-log'), MOST_ANSWER_BYTES)
  }

  private async allParts<T extends { next?: number | null }, P>(
    type: ClassConstructor<T>,
    path: string,
    partsOf: (answer: T) => P[],
  ): Promise<P[]> {
    const all: P[] = []
    for (let from: number | null = 0; from !== null;) {
      const answer: T = await this.ask(type, 'GET', `${path}?from=${from}`)
      all.push(...partsOf(answer))
      if (all.length > MOST_PARTS) throw new ConnectorError(`${path}: more than ${MOST_PARTS} entries.`)
      if (answer.next != null && answer.next <= from) throw new ConnectorError(`${path}: next must grow.`)
      from = answer.next ?? null
    }
    return all
  }

  async rules(): Promise<{ version: number; rules: Rule[] }> {
    const response = await this.send('GET', '/rules')
    const version = versionOf(response)
    const parsed = parseRuleFile(parseJson(await boundedText(response, MOST_ANSWER_BYTES), '/rules'))
    if ('problems' in parsed) {
      const [first] = parsed.problems
      throw new ConnectorError(
        `The site’s rules can’t be read at ${first!.at || 'the top'}: expected ${first!.expected}.`,
      )
    }
    return { version, rules: parsed.file.rules }
  }

  /** Puts rules live. @throws ConnectorError with fault `stale` when the site's rules are not at that version any more. */
  async putRules(rules: Rule[], expectedVersion: number): Promise<number> {
    const body = { format: RULES_FORMAT, rules }
    const response = await this.send('PUT', '/rules', body, { 'if-match': `"${expectedVersion}"` })
    return (await answerOf(VersionAnswer, response, '/rules')).version
  }

  /** Has the site keep draft rules for a while, and add-ons on trial; only measuring requests that name them see them. */
  async keepDrafts(rules: Rule[], addOns?: Readonly<Record<string, string | null>>): Promise<string> {
    const body = { format: RULES_FORMAT, rules, ...(addOns && { addOns }) }
    return (await this.ask(DraftsKeptAnswer, 'POST', '/drafts', body)).id
  }

  makeScratch = (like: string) => this.ask(ScratchAnswer, 'POST', '/scratch', { like })
  removeScratch = (path: string) => this.ask(ScratchRemovedAnswer, 'POST', '/scratch/remove', { path })
  /** Gives the site a copy that was made of one of its files; @returns where it stands. */
  giveCopy = async (copy: { address: string; addon: string; content: string; from: string; body: string }) =>
    (await this.ask(CopyGivenAnswer, 'POST', '/copies', copy)).path
  copies = async () => (await this.ask(CopiesAnswer, 'GET', '/copies')).copies
  shelf = async () => (await this.ask(ShelfAnswer, 'GET', '/shelf')).addOns

  removeDrafts = (id: string) => this.ask(DraftsRemovedAnswer, 'POST', '/drafts/remove', { id })

  private async ask<T extends object>(
    type: ClassConstructor<T>,
    method: string,
    path: string,
    body?: object,
  ): Promise<T> {
    return answerOf(type, await this.send(method, path, body), path)
  }

  private async send(
    method: string,
    path: string,
    body?: object,
    headers: Record<string, string> = {},
  ): Promise<Response> {
    const { host } = new URL(this.origin)
    const response = await siteFetch(this.origin + this.base + path, {
      reach: this.reach,
      method,
      headers: {
        ...(await keyHeaders(this.origin, this.key)),
        ...(body && { 'content-type': 'application/json' }),
        ...headers,
      },
      ...(body && { body: JSON.stringify(body) }),
    }).catch((error: unknown) => {
      throw unreachable(error, host)
    })
    if (response.status === 401 && /^\s*basic\b/i.test(response.headers.get('www-authenticate') ?? ''))
      throw new ConnectorError(lockedWords(host, response.status), 'access')
    if (response.status === 401 || response.status === 403)
      throw new ConnectorError('The connector does not accept this key.', 'key')
    if (response.status === 412)
      throw new ConnectorError('The site’s rules have changed meanwhile. Nothing was written.', 'stale')
    if (AWAY.has(response.status)) {
      await response.body?.cancel()
      throw new ConnectorError(`${host} answers ${response.status}: the site itself is away.`, 'address')
    }
    if (!response.ok) {
      const said = await boundedText(response, 20_000).catch(() => '')
      throw new ConnectorError(
        `The connector answered ${method} ${path} with ${response.status}. ${problemTitle(said)}`.trim(),
      )
    }
    return response
  }
}

async function answerOf<T extends object>(type: ClassConstructor<T>, response: Response, path: string): Promise<T> {
  const plain = parseJson(await boundedText(response, MOST_ANSWER_BYTES), path)
  if (typeof plain !== 'object' || plain === null || Array.isArray(plain))
    throw new ConnectorError(`The connector’s ${path} must answer with an object.`)
  const answer = plainToInstance(type, plain)
  const [first] = validateSync(answer, { forbidUnknownValues: false, stopAtFirstError: true })
  if (first) throw new ConnectorError(`The connector’s ${path} can’t be used: ${place(first)}.`)
  return answer
}

function place(error: ValidationError, path = error.property): string {
  const child = error.children?.[0]
  if (child) return place(child, `${path}/${child.property}`)
  return `${path}: ${Object.values(error.constraints ?? {})[0] ?? 'not as expected'}`
}

function parseJson(text: string, path: string): unknown {
  try {
    return JSON.parse(text)
  } catch (error) {
    throw new ConnectorError(`The connector’s ${path} is not JSON: ${(error as Error).message}`)
  }
}

function versionOf(response: Response): number {
  const [, version] = /^"(\d{1,9})"$/.exec(response.headers.get('etag') ?? '') ?? []
  if (version === undefined) throw new ConnectorError('The connector’s /rules must carry its version as ETag.')
  return Number(version)
}

function problemTitle(text: string): string {
  try {
    const title: unknown = (JSON.parse(text) as { title?: unknown }).title
    return typeof title === 'string' ? title.slice(0, 300) : ''
  } catch {
    return ''
  }
}
