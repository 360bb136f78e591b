// npm run bench -- NAME: runs one benchmark from bench/ against a stand-in of its own; its last line gives the ratio.
import { existsSync, mkdtempSync, rmSync, chmodSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { startChild } from './lib/child.mjs'
import { startCluster } from './lib/cluster.mjs'
import { ensureDatabase } from './lib/databases.mjs'
import { PlainError, runMain } from './lib/fail.mjs'
import { freePort } from './lib/ports.mjs'
import { seedDemo } from './lib/seed.mjs'
import { startStack } from './lib/stack.mjs'
import { run } from './lib/run.mjs'
import { chromiumProgram, ensureSystemPackages } from './lib/system-packages.mjs'
import { ensureBuilt, ensureNodeModules, ROOT } from './lib/workspace.mjs'

const [name, ...rest] = process.argv.slice(2)

/** Those that look at an Unvelt with the demo's past. */
const WITH_PAST = new Set(['self', 'storage'])

await runMain(async () => {
  await ensureSystemPackages()
  await ensureNodeModules()
  await ensureBuilt()
  const script = join(ROOT, `bench/dist/${name}.js`)
  if (!name || !/^[a-z-]+$/.test(name) || !existsSync(script))
    throw new PlainError(`there is no benchmark ${name ?? 'without a name'}; see bench/src.`)
  const home = mkdtempSync(join(tmpdir(), 'unvelt-bench-'))
  chmodSync(home, 0o755)
  const running = []
  try {
    if (WITH_PAST.has(name)) {
      const stack = await startStack({ home, port: await freePort(), standinPort: await freePort(), throwaway: true })
      running.push(stack)
      await seedDemo(stack)
      const env = {
        ...process.env,
        UNVELT_URL: stack.address,
        UNVELT_CHROMIUM: chromiumProgram(),
        DATABASE_URL: stack.databaseUrl,
      }
      return await run(process.execPath, [script, ...rest], { env, cwd: ROOT })
    }
    const cluster = await startCluster(home, { throwaway: true })
    running.push(cluster)
    for (const database of ['fernhollow', 'unvelt']) await ensureDatabase(cluster.url('postgres'), database)
    const port = await freePort()
    const site = startChild(
      'stand-in',
      join(ROOT, 'standin/dist/main.js'),
      { STANDIN_PORT: String(port), STANDIN_KEY: 'bench', STANDIN_DATABASE_URL: cluster.url('fernhollow') },
      { quiet: true },
    )
    running.push(site)
    while (!site.said() && !site.isOver()) await new Promise((resolve) => setTimeout(resolve, 50))
    if (site.isOver()) throw new PlainError(`the stand-in did not come up: ${site.said()}`)
    const env = {
      ...process.env,
      STANDIN_URL: `http://fernhollow.localhost:${port}`,
      STANDIN_KEY: 'bench',
      // For benchmarks of what the site itself does.
      STANDIN_DATABASE_URL: cluster.url('fernhollow'),
      STANDIN_PID: String(site.pid),
      UNVELT_CHROMIUM: chromiumProgram(),
      // For benchmarks that start a server of their own.
      DATABASE_URL: cluster.url('unvelt'),
      UNVELT_HOME: home,
      UNVELT_PORT: String(await freePort()),
      UNVELT_WEB: join(ROOT, 'web/dist'),
    }
    await run(process.execPath, [script, ...rest], { env, cwd: ROOT })
  } finally {
    for (const part of running.reverse()) await part.stop()
    rmSync(home, { recursive: true, force: true })
  }
})
