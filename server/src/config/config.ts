import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { createHmac, randomBytes } from 'node:crypto'
import { join } from 'node:path'

export interface Config {
  databaseUrl: string
  host: string
  port: number
  /** Folder of the built web application; none serves the API alone. */
  webFolder: string | null
  chromium: string
  /** 32 bytes that seal stored connector keys. */
  secret: Buffer
  /** What sites must show to send traces. */
  tracesToken: string
  /** How many pages a worker has under way; those that give times are alone all the same. */
  pagesAtATime: number
}

const MOST_PAGES_AT_A_TIME = 8

/** Reads the configuration from the environment. @throws Error that names the variable that is wrong. */
export function readConfig(env: NodeJS.ProcessEnv = process.env): Config {
  const databaseUrl = env.DATABASE_URL
  if (!databaseUrl) throw new Error('DATABASE_URL must name a PostgreSQL database.')
  const port = Number(env.UNVELT_PORT ?? 4600)
  if (!Number.isInteger(port) || port < 0 || port > 65535) throw new Error('UNVELT_PORT must be a port number.')
  const pagesAtATime = Number(env.UNVELT_PAGES_AT_A_TIME ?? 3)
  if (!Number.isInteger(pagesAtATime) || pagesAtATime < 1 || pagesAtATime > MOST_PAGES_AT_A_TIME)
    throw new Error(`UNVELT_PAGES_AT_A_TIME must be a whole number from 1 to ${MOST_PAGES_AT_A_TIME}.`)
  const secret = readSecret(env)
  return {
    databaseUrl,
    host: env.UNVELT_HOST ?? '127.0.0.1',
    port,
    webFolder: env.UNVELT_WEB ?? null,
    chromium: env.UNVELT_CHROMIUM ?? '/usr/bin/chromium',
    secret,
    pagesAtATime,
    tracesToken: env.UNVELT_TRACES_TOKEN ?? createHmac('sha256', secret).update('traces').digest('hex'),
  }
}

/** The sealing secret: from the environment, or from a file in the data folder that is made at the first start. */
function readSecret(env: NodeJS.ProcessEnv): Buffer {
  if (env.UNVELT_SECRET) {
    const secret = Buffer.from(env.UNVELT_SECRET, 'hex')
    if (secret.length !== 32) throw new Error('UNVELT_SECRET must be 64 hexadecimal digits.')
    return secret
  }
  if (!env.UNVELT_HOME) throw new Error('UNVELT_HOME or UNVELT_SECRET must be set.')
  const file = join(env.UNVELT_HOME, 'secret')
  if (!existsSync(file)) {
    mkdirSync(env.UNVELT_HOME, { recursive: true })
    writeFileSync(file, randomBytes(32).toString('hex'), { mode: 0o600 })
  }
  return Buffer.from(readFileSync(file, 'utf8').trim(), 'hex')
}
