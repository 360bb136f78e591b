// npm run hostile [-- PATH …]: sweeps a site that does whatever a site can do to whoever reads it, with a real worker. Every
// page has to end, pages that are well have to be read, and the worker has to stay small.
import { chmodSync, mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { PlainError, runMain } from './lib/fail.mjs'
import { freePort } from './lib/ports.mjs'
import { caller } from './lib/seed.mjs'
import { startStack } from './lib/stack.mjs'
import { ensureSystemPackages } from './lib/system-packages.mjs'
import { ensureBuilt, ensureNodeModules } from './lib/workspace.mjs'

const MOST_BYTES = 1.2e9
const LEAST_KINDS = 42
const only = process.argv.slice(2)

await runMain(async () => {
  await ensureSystemPackages()
  await ensureNodeModules()
  await ensureBuilt()
  const home = mkdtempSync(join(tmpdir(), 'unvelt-hostile-'))
  chmodSync(home, 0o755)
  const stack = await startStack({ home, port: await freePort(), standinPort: await freePort(), throwaway: true })
  try {
    const call = caller(stack.address)
    const address = stack.standinAddress.replace('fernhollow.', 'trouble.')
    const site = await call('POST', '/sites', { address, withoutConnector: true, local: true })
    const pages = (await call('GET', `/sites/${site.id}/pages`)).filter(({ path }) => path !== '/')
    const chosen = only.length > 0 ? pages.filter(({ path }) => only.includes(path) || /^.sound/.test(path)) : pages
    const kinds = chosen.filter(({ path }) => !/^.sound/.test(path)).length
    console.log(`${kinds} kinds of trouble, ${chosen.length - kinds} sound pages among them.`)
    const began = Date.now()
    const sweep = await call('POST', `/sites/${site.id}/sweeps`, { pageIds: chosen.map(({ id }) => id), repeats: 1 })
    let largest = 0
    let said = ''
    const workers = new Set()
    for (;;) {
      const now = await call('GET', `/sweeps/${sweep.id}`)
      const pid = stack.workerPid()
      workers.add(pid)
      largest = Math.max(largest, residentBytes(pid))
      const line = `${now.readings} of ${now.readingsPlanned}, at ${now.atPages.join(' ')}`
      if (line !== said) console.log(`${((Date.now() - began) / 1000).toFixed(0)} s: ${(said = line)}`)
      if (now.status !== 'running') {
        report(now, { kinds, chosen, largest, workers: workers.size })
        break
      }
      await new Promise((resolve) => setTimeout(resolve, 1_000))
    }
  } finally {
    await stack.stop()
    rmSync(home, { recursive: true, force: true })
  }
})

function report(sweep, { kinds, chosen, largest, workers }) {
  for (const { reason, paths } of sweep.failures) console.log(`  ${paths.join(' ')}: ${reason}`)
  const failed = new Set(sweep.failures.flatMap(({ paths }) => paths))
  const soundFailed = chosen.filter(({ path }) => /^.sound/.test(path) && failed.has(path))
  const mb = (largest / 1e6).toFixed(0)
  console.log(
    `hostile kinds=${kinds} ended=${sweep.pagesDone} of ${sweep.pages} failed=${sweep.pagesFailed} sound-failed=${soundFailed.length} worker-mb=${mb} workers=${workers}`,
  )
  if (sweep.status !== 'done' || sweep.pagesDone !== sweep.pages) throw new PlainError('not every page has ended.')
  if (soundFailed.length > 0) throw new PlainError('a page that is well was not read.')
  if (largest > MOST_BYTES) throw new PlainError(`the worker took ${mb} MB.`)
  if (workers > 1) throw new PlainError('the worker died.')
  if (only.length === 0 && kinds < LEAST_KINDS) throw new PlainError(`only ${kinds} kinds of trouble were met.`)
}

function residentBytes(pid) {
  try {
    return Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))[1]) * 1024
  } catch {
    return 0
  }
}
