// npm run fuzz [-- MINUTES [PATTERN]]: core's properties again and again, each time with other seeds, for so long; every counterexample is printed.
import { spawn } from 'node:child_process'
import { PlainError, runMain } from './lib/fail.mjs'
import { ensureNodeModules, ROOT } from './lib/workspace.mjs'

await runMain(async () => {
  const [minutes = '60', pattern = '.'] = process.argv.slice(2)
  await ensureNodeModules()
  const until = Date.now() + Number(minutes) * 60_000
  let rounds = 0
  let failed = 0
  while (Date.now() < until) {
    const { code, said } = await round(pattern)
    rounds++
    if (code === 0) continue
    failed++
    console.log(said)
  }
  console.log(`fuzz rounds=${rounds} failed=${failed}`)
  if (failed > 0) throw new PlainError('a property does not hold.')
})

function round(pattern) {
  return new Promise((resolve) => {
    const child = spawn('npx', ['jest', '--selectProjects', 'core', '--testPathPatterns', pattern], {
      cwd: ROOT,
      env: { ...process.env, NODE_OPTIONS: '--experimental-vm-modules --disable-warning=ExperimentalWarning' },
    })
    let said = ''
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (piece) => (said += piece))
    child.on('close', (code) => resolve({ code, said }))
  })
}
