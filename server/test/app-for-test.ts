import type { NestExpressApplication } from '@nestjs/platform-express'
import { Sequelize } from 'sequelize'
import { startStandin } from '@unvelt/standin'
import { CONFIG } from '../src/config/config.module.js'
import type { Config } from '../src/config/config.js'
import { freshDatabase } from '../../testing/fresh-database.js'
import { standinDatabase } from '../../testing/standin-database.js'

export const KEY = 'test-key'

/** Server and stand-in on free ports, each with a database of its own. No worker runs. */
export async function appForTest({ traced = false } = {}) {
  Object.assign(process.env, {
    UNVELT_PORT: '0',
    UNVELT_PREVIEW_PORT: '0',
    UNVELT_SECRET: '5a'.repeat(32),
    STANDIN_PAGES: '8',
  })
  const { createApp } = await import('../src/create-app.js')
  const appOn = (url: string): Promise<NestExpressApplication> => {
    process.env.DATABASE_URL = url
    return createApp()
  }
  const theirs = await standinDatabase()
  const own = await freshDatabase('server', async (url) => (await appOn(url)).close())
  const app = await appOn(own.url)
  // No worker is there that would play the guards of what goes live; who tests that says so.
  await app.get(Sequelize).query(`alter table site alter column net set default 'off'`)
  await app.listen(0, '127.0.0.1')
  const standin = await startStandin({
    port: 0,
    databaseUrl: theirs.url,
    connectorKey: KEY,
    ...(traced && {
      spans: { endpoint: `${await app.getUrl()}/v1/traces`, token: app.get<Config>(CONFIG).tracesToken },
    }),
  })
  const base = (await app.getUrl()) + '/api'
  return {
    app,
    standin,
    databaseUrl: own.url,
    standinDatabaseUrl: theirs.url,
    call: (method: string, path: string, body?: object, headers: Record<string, string> = {}) =>
      call(base, method, path, body, headers),
    async stop() {
      await app.close()
      await standin.stop()
      await Promise.all([own.drop(), theirs.drop()])
    },
  }
}

// Answers are asserted on, not typed.
// eslint-disable-next-line @typescript-eslint/no-explicit-any
type Answer = { status: number; body: any }

async function call(
  base: string,
  method: string,
  path: string,
  body?: object,
  headers: Record<string, string> = {},
): Promise<Answer> {
  const response = await fetch(base + path, {
    method,
    headers: { ...(body && { 'content-type': 'application/json' }), ...headers },
    ...(body && { body: JSON.stringify(body) }),
  })
  return { status: response.status, body: response.status === 204 ? null : await response.json() }
}
