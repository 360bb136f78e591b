// npm run backup -- FILE: everything that the running Unvelt has, in one file, while it runs.
import { existsSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { PlainError, runMain } from './lib/fail.mjs'
import { unveltHome } from './lib/home.mjs'
import { run } from './lib/run.mjs'
import { runningDatabase } from './lib/stack.mjs'
import { postgresPrograms } from './lib/system-packages.mjs'

await runMain(async () => {
  const [file] = process.argv.slice(2)
  if (!file) throw new PlainError('npm run backup -- FILE: expected a file to write to.')
  if (existsSync(file)) throw new PlainError(`${file} is there already, and is not written over.`)
  const home = unveltHome('start')
  const databaseUrl = process.env.DATABASE_URL ?? runningDatabase(home)
  if (!databaseUrl) throw new PlainError(`nothing runs on the data folder ${home}. Start Unvelt first.`)
  await run(join(postgresPrograms(), 'pg_dump'), ['--format=custom', `--file=${resolve(file)}`, databaseUrl], {
    quiet: true,
  })
  console.log(
    `${file} holds the database. Keep ${join(home, 'secret')} apart from it: without that file, no kept key can be opened.`,
  )
})
