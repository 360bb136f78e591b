import { createHmac } from 'node:crypto'
import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { Ajv2020, type ValidateFunction } from 'ajv/dist/2020.js'
import type { Response } from 'undici'
import type { ConnectorDescription } from '@unvelt/contract'
import { DESCRIBE_PATH } from '../site-http/connector-client.js'
import { keyHeaders } from '../site-http/key-headers.js'
import { boundedBytes, boundedText, siteFetch } from '../site-http/site-fetch.js'

const MOST_BYTES = 32e6

export interface Said {
  status: number
  headers: Response['headers']
  text: string
}

/** A check that a connector does not pass, and why. */
export class NotAsExpected extends Error {}

export function expect(holds: boolean, otherwise: string): asserts holds {
  if (!holds) throw new NotAsExpected(otherwise)
}

/** A site whose connector is being checked: how to ask it, and how to tell whether an answer fits its schema. */
export class SiteUnderCheck {
  description!: ConnectorDescription
  private readonly ajv = new Ajv2020({ allErrors: false, strict: false })
  private readonly compiled = new Map<string, ValidateFunction>()

  constructor(
    readonly origin: string,
    private readonly key: string,
  ) {}

  offers(call: string): boolean {
    return this.description.calls?.includes(call) ?? true
  }

  describe = () => this.fetch('GET', DESCRIBE_PATH)

  /** Asks below the base, with the key, unless told otherwise. */
  async call(method: string, path: string, body?: unknown, headers: Record<string, string> = {}): Promise<Said> {
    return this.fetch(
      method,
      this.description.base + path,
      { ...(await keyHeaders(this.origin, this.key)), ...headers },
      body === undefined ? undefined : typeof body === 'string' ? body : JSON.stringify(body),
    )
  }

  /** A page as a measuring request gets it. */
  page(path: string, asked: string, key = this.key): Promise<Said> {
    const expires = Math.floor(Date.now() / 1000) + 120
    const signature = createHmac('sha256', key).update(`${expires}\n${path}`).digest('hex')
    return this.fetch('GET', path, { 'unvelt-measure': `expires=${expires}, signature=${signature}, ${asked}` })
  }

  async fetch(method: string, path: string, headers: Record<string, string> = {}, body?: string): Promise<Said> {
    const response = await siteFetch(this.origin + path, {
      // Who checks a connector by its address has it before himself, on whatever network.
      reach: 'anywhere',
      method,
      headers: { ...headers, ...(body !== undefined && { 'content-type': 'application/json' }) },
      ...(body !== undefined && { body }),
    })
    return { status: response.status, headers: response.headers, text: await boundedText(response, MOST_BYTES) }
  }

  /** A file of the site, as its bytes are once unpacked. @throws NotAsExpected where it is not served. */
  async file(path: string): Promise<Buffer> {
    const response = await siteFetch(this.origin + path, { reach: 'anywhere' })
    expect(response.status === 200, `${path} answers ${response.status}`)
    return boundedBytes(response, MOST_BYTES)
  }

  /** The answer as JSON, if it fits the published schema. @throws NotAsExpected where it does not. */
  fitting<T>({ text, status }: Said, schema: string, wanted = 200): T {
    expect(status === wanted, `the status is ${status}, expected ${wanted}: ${text.slice(0, 200)}`)
    let value: unknown
    try {
      value = JSON.parse(text)
    } catch (error) {
      throw new NotAsExpected(`the answer is not JSON: ${(error as Error).message}`)
    }
    const validate = this.schema(schema)
    const [problem] = validate(value) ? [] : (validate.errors ?? [])
    expect(!problem, `${schema}.schema.json at ${problem?.instancePath || 'the top'}: ${problem?.message}`)
    return value as T
  }

  /** A refusal: the right status, and a problem document that says why. */
  refused(said: Said, status: number): { problems?: { at: string; expected: string }[] } {
    expect(said.status === status, `the status is ${said.status}, expected ${status}`)
    const type = said.headers.get('content-type') ?? ''
    expect(type.startsWith('application/problem+json'), `the content type is ${type}, expected a problem document`)
    return this.fitting(said, 'problem', status)
  }

  private schema(name: string): ValidateFunction {
    const known = this.compiled.get(name)
    if (known) return known
    const folder = new URL('../schemas/', `file://${createRequire(import.meta.url).resolve('@unvelt/contract')}`)
    const validate = this.ajv.compile(
      JSON.parse(readFileSync(new URL(`${name}.schema.json`, folder), 'utf8')) as Record<string, unknown>,
    )
    this.compiled.set(name, validate)
    return validate
  }
}
