import { mkdtempSync, chownSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { run } from './run.mjs'
import { ROOT } from './workspace.mjs'

/**
 * Whom root runs the measuring worker as: a browser that opens other people's pages is no business of root's, and has its
 * sandbox only as somebody else. Null where this is not root, or where that user can't read the program.
 * @returns {Promise<{ user: { uid: number, gid: number }, home: string } | null>}
 */
export async function lesserUser() {
  if (process.getuid?.() !== 0) return null
  const ask = async (flag) => Number((await run('id', [flag, 'nobody'], { quiet: true })).trim())
  try {
    const user = { uid: await ask('-u'), gid: await ask('-g') }
    const program = join(ROOT, 'server/dist/worker/worker.js')
    const reads = `require('fs').accessSync(${JSON.stringify(program)}); require('fs').readdirSync(${JSON.stringify(join(ROOT, 'node_modules'))})`
    await run(process.execPath, ['-e', reads], { quiet: true, cwd: '/', env: { PATH: process.env.PATH }, ...user })
    const home = mkdtempSync(join(tmpdir(), 'unvelt-worker-'))
    chownSync(home, user.uid, user.gid)
    return { user, home }
  } catch {
    return null
  }
}
