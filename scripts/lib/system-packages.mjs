import { accessSync, constants, existsSync, readdirSync } from 'node:fs'
import { delimiter, join } from 'node:path'
import { PlainError } from './fail.mjs'
import { run } from './run.mjs'

/** The folder of the newest PostgreSQL server's programs, or null. Debian keeps them off the PATH. */
export function postgresPrograms() {
  const base = '/usr/lib/postgresql'
  const versions = existsSync(base) ? readdirSync(base).filter((v) => existsSync(join(base, v, 'bin/initdb'))) : []
  const newest = versions.sort((a, b) => Number(b) - Number(a))[0]
  if (newest) return join(base, newest, 'bin')
  const initdb = findOnPath('initdb')
  return initdb ? join(initdb, '..') : null
}

export const chromiumProgram = () => process.env.UNVELT_CHROMIUM ?? findOnPath('chromium')

/** Installs Debian's PostgreSQL and Chromium where they are missing and wanted. */
export async function ensureSystemPackages({ postgres = true } = {}) {
  const missing = []
  if (postgres && !postgresPrograms()) missing.push('postgresql')
  if (!chromiumProgram()) missing.push('chromium')
  if (missing.length === 0) return
  const list = missing.join(' ')
  const root = process.getuid?.() === 0
  if (!findOnPath('apt-get'))
    throw new PlainError(
      `it needs ${missing.join(' and ')}, and can install them only on Debian. Please install them and try again.`,
    )
  if (!root && !(await canSudo()))
    throw new PlainError(
      `it needs ${missing.join(' and ')}, and you are neither root nor allowed to use sudo without a password. Please run\n\n  sudo apt-get update && sudo apt-get install -y ${list}\n\nand try again.`,
    )
  console.log(`Installing Debian’s ${missing.join(' and ')} (once) …`)
  const apt = (args) => {
    const command = ['apt-get', '-qq', '-o', 'DPkg::Lock::Timeout=120', ...args]
    const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' }
    return root
      ? run(command[0], command.slice(1), { quiet: true, env })
      : run('sudo', ['-n', 'DEBIAN_FRONTEND=noninteractive', ...command], { quiet: true, env })
  }
  await apt(['update'])
  await apt(['install', '-y', '--no-install-recommends', ...missing])
}

const canSudo = () =>
  findOnPath('sudo')
    ? run('sudo', ['-n', 'true'], { quiet: true }).then(
        () => true,
        () => false,
      )
    : false

function findOnPath(program) {
  for (const folder of [...(process.env.PATH ?? '').split(delimiter), '/usr/bin', '/usr/local/bin']) {
    const path = join(folder, program)
    try {
      accessSync(path, constants.X_OK)
      return path
    } catch {
      // Not in this folder.
    }
  }
  return null
}
