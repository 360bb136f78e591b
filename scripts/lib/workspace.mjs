import { createHash } from 'node:crypto'
import { existsSync, readFileSync, readdirSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { run } from './run.mjs'

export const ROOT = fileURLToPath(new URL('../..', import.meta.url)).replace(/\/$/, '')
const BUILT = ['core', 'contract', 'server', 'standin', 'bench', 'web']

/** Installs npm packages when the lock file has changed since they were installed. */
export async function ensureNodeModules() {
  const stamp = join(ROOT, 'node_modules/.unvelt-installed')
  const now = createHash('sha256')
    .update(readFileSync(join(ROOT, 'package-lock.json')))
    .digest('hex')
  if (read(stamp) === now) return
  console.log('Installing npm packages (once) …')
  await run('npm', ['ci', '--no-audit', '--no-fund'], { quiet: true, cwd: ROOT })
  writeFileSync(stamp, now)
}

/** Builds when a source has changed since the last build. */
export async function ensureBuilt() {
  const stamp = join(ROOT, 'node_modules/.unvelt-built')
  const now = fingerprint()
  const complete = BUILT.every((name) => existsSync(join(ROOT, name, 'dist')))
  if (complete && read(stamp) === now) return
  console.log('Building …')
  await run('npm', ['run', '--silent', 'build'], { quiet: true, cwd: ROOT })
  writeFileSync(stamp, now)
}

const read = (file) => (existsSync(file) ? readFileSync(file, 'utf8') : '')

/** Name, size and time of every file a build depends on. */
function fingerprint() {
  const hash = createHash('sha256')
  const walk = (path) => {
    for (const entry of readdirSync(path, { withFileTypes: true })) {
      if (['dist', 'node_modules', 'test-results'].includes(entry.name)) continue
      const full = join(path, entry.name)
      if (entry.isDirectory()) walk(full)
      else {
        const { size, mtimeMs } = statSync(full)
        hash.update(`${full} ${size} ${mtimeMs}\n`)
      }
    }
  }
  for (const name of BUILT) walk(join(ROOT, name))
  for (const name of ['package-lock.json', 'tsconfig.base.json', 'tsconfig.json'])
    hash.update(`${name} ${statSync(join(ROOT, name)).mtimeMs}\n`)
  return hash.digest('hex')
}
