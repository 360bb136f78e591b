import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { PlainError } from './fail.mjs'

/** Takes the data folder for this process alone. Returns the function that gives it free again. */
export function takeHome(home) {
  const file = join(home, 'unvelt.pid')
  const pid = existsSync(file) ? Number(readFileSync(file, 'utf8')) : 0
  if (pid && pid !== process.pid && isUnvelt(pid))
    throw new PlainError(
      `Unvelt is running already with the data folder ${home} (process ${pid}). End it first, or set UNVELT_HOME to another folder.`,
    )
  try {
    writeFileSync(file, String(process.pid))
  } catch (error) {
    throw new PlainError(`the data folder ${home} can’t be written to (${error.code}).`)
  }
  return () => rmSync(file, { force: true })
}

function isUnvelt(pid) {
  try {
    return /(demo|start|restore)\.mjs/.test(readFileSync(`/proc/${pid}/cmdline`, 'utf8'))
  } catch {
    return false
  }
}
