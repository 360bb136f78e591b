import { mkdirSync } from 'node:fs'
import { homedir } from 'node:os'
import { join, resolve } from 'node:path'
import { PlainError } from './fail.mjs'

/**
 * The folder that holds Unvelt's data. Root's own home is closed to the `postgres` user, so root's stands elsewhere.
 * @param kind The demo's data is apart from one's own.
 */
export function unveltHome(kind = 'demo') {
  const home = process.env.UNVELT_HOME
    ? resolve(process.env.UNVELT_HOME)
    : process.getuid?.() === 0
      ? join('/var/lib/unvelt', kind === 'demo' ? '' : 'own')
      : join(homedir(), '.local/share', kind === 'demo' ? 'unvelt' : 'unvelt-own')
  try {
    mkdirSync(home, { recursive: true })
  } catch (error) {
    throw new PlainError(
      `the data folder ${home} can’t be made (${error.code}). Set UNVELT_HOME to a folder you may write to.`,
    )
  }
  return home
}
