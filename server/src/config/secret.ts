import { createHash, randomBytes } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'

const SECRET = /^[0-9a-f]{64}$/i

/**
 * The sealing secret: from the environment, or from a file in the data folder that is made at the first start.
 * @throws Error that says which of the two is not as expected.
 */
export function readSecret(env: NodeJS.ProcessEnv): Buffer {
  if (env.UNVELT_SECRET) {
    if (!SECRET.test(env.UNVELT_SECRET)) throw new Error('UNVELT_SECRET: expected 64 hexadecimal digits.')
    return Buffer.from(env.UNVELT_SECRET, 'hex')
  }
  if (!env.UNVELT_HOME) throw new Error('UNVELT_HOME or UNVELT_SECRET: expected one of them to be set.')
  const file = join(env.UNVELT_HOME, 'secret')
  if (!existsSync(file)) {
    mkdirSync(env.UNVELT_HOME, { recursive: true })
    writeFileSync(file, randomBytes(32).toString('hex'), { mode: 0o600 })
  }
  const text = readFileSync(file, 'utf8').trim()
  if (!SECRET.test(text)) throw new Error(`${file}: expected 64 hexadecimal digits.`)
  return Buffer.from(text, 'hex')
}

/** A name for a secret that tells whether two processes share it, and nothing else of it. */
export const keyIdOf = (secret: Buffer): string =>
  createHash('sha256').update('unvelt key id\n').update(secret).digest('hex').slice(0, 12)
