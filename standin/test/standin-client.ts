import { createHmac } from 'node:crypto'
import { request } from 'node:http'
import { startStandin, type Standin, type StandinOptions } from '../src/index.js'
import { standinDatabase } from '../../testing/standin-database.js'

export const KEY = 'test-key'

export interface Answer {
  status: number
  headers: Record<string, string | string[] | undefined>
  text: string
  json(): unknown
}

/** The stand-in on a free port with a database of its own, and how to talk to it. */
export async function standinForTest(options: Partial<StandinOptions> = {}) {
  const database = await standinDatabase()
  const standin = await startStandin({ port: 0, databaseUrl: database.url, connectorKey: KEY, ...options })
  return {
    standin,
    get: (path: string, headers?: Record<string, string>, host?: string) =>
      ask(standin, 'GET', path, headers, undefined, host),
    connector: (method: string, path: string, body?: unknown, headers: Record<string, string> = {}) =>
      ask(standin, method, `/unvelt/v1${path}`, { authorization: `Bearer ${KEY}`, ...headers }, body),
    /** Sends a form as a browser does, and gives the answer without following it. */
    post: (path: string, form: Record<string, string>, headers: Record<string, string> = {}) =>
      ask(
        standin,
        'POST',
        path,
        { 'content-type': 'application/x-www-form-urlencoded', ...headers },
        new URLSearchParams(form).toString(),
      ),
    async stop() {
      await standin.stop()
      await database.drop()
    },
  }
}

/** A signed measuring header, as `docs/connector.md` describes it. */
export function measuring(
  path: string,
  rest = 'rules=live, cache=bypass',
  key = KEY,
  expires = Math.floor(Date.now() / 1000) + 60,
): Record<string, string> {
  const signature = createHmac('sha256', key).update(`${expires}\n${path}`).digest('hex')
  return { 'unvelt-measure': `expires=${expires}, signature=${signature}, ${rest}` }
}

function ask(
  { port }: Standin,
  method: string,
  path: string,
  headers: Record<string, string> = {},
  body?: unknown,
  host = 'fernhollow.localhost',
): Promise<Answer> {
  return new Promise((resolve, reject) => {
    const sent = request(
      { host: '127.0.0.1', port, method, path, headers: { host: `${host}:${port}`, ...headers } },
      (response) => {
        const chunks: Buffer[] = []
        response.on('data', (chunk: Buffer) => chunks.push(chunk))
        response.on('end', () => {
          const text = Buffer.concat(chunks).toString('utf8')
          resolve({
            status: response.statusCode!,
            headers: response.headers,
            text,
            json: () => JSON.parse(text) as unknown,
          })
        })
      },
    )
    sent.once('error', reject)
    sent.end(body === undefined ? undefined : typeof body === 'string' ? body : JSON.stringify(body))
  })
}
