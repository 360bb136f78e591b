// npm run restore -- FILE: puts a backup into a data folder that has no sites yet. Unvelt must not run on it.
import { existsSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { startCluster } from './lib/cluster.mjs'
import { ensureDatabase } from './lib/databases.mjs'
import { PlainError, runMain } from './lib/fail.mjs'
import { unveltHome } from './lib/home.mjs'
import { run } from './lib/run.mjs'
import { takeHome } from './lib/single.mjs'
import { ensureSystemPackages, postgresPrograms } from './lib/system-packages.mjs'
import { ensureNodeModules } from './lib/workspace.mjs'

await runMain(async () => {
  const [file] = process.argv.slice(2)
  if (!file || !existsSync(file))
    throw new PlainError('npm run restore -- FILE: expected a file that npm run backup wrote.')
  const home = unveltHome('start')
  const giveHomeFree = takeHome(home)
  let cluster
  try {
    await ensureSystemPackages({ postgres: !process.env.DATABASE_URL })
    await ensureNodeModules()
    if (!process.env.DATABASE_URL) cluster = await startCluster(home)
    const url = process.env.DATABASE_URL ?? cluster.url('unvelt')
    if (cluster) await ensureDatabase(cluster.url('postgres'), 'unvelt')
    const tables = await run(
      join(postgresPrograms(), 'psql'),
      ['--tuples-only', '--no-align', '--command', `select to_regclass('public.site') is not null`, url],
      { quiet: true },
    )
    if (tables.trim() === 't')
      throw new PlainError(
        `${home} holds data already, and nothing is written over it. Set UNVELT_HOME to an empty folder.`,
      )
    await run(
      join(postgresPrograms(), 'pg_restore'),
      ['--no-owner', '--exit-on-error', '--single-transaction', `--dbname=${url}`, resolve(file)],
      { quiet: true },
    )
    console.log(`Restored into ${home}.`)
    if (!existsSync(join(home, 'secret')) && !process.env.UNVELT_SECRET)
      console.log(`Put the file “secret” that belongs to the backup into ${home} before you start Unvelt.`)
  } finally {
    await cluster?.stop()
    giveHomeFree()
  }
})
