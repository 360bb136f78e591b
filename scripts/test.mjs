// npm test: installs what is missing, builds, and runs every test: units on the sources, the interface in Chromium.
// `npm test -- unit`, `npm test -- e2e` or `npm test -- faults` runs one part; anything behind it goes to the runner.
// `npm run long` drives the interface through what takes too long for every time.
import { chmodSync, mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { spawn } from 'node:child_process'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { startCluster } from './lib/cluster.mjs'
import { runMain } from './lib/fail.mjs'
import { failuresOfJest, failuresOfPlaywright } from './lib/failures.mjs'
import { faultRounds } from './lib/faults.mjs'
import { filesToTryAgain, reportOf, withSecondTry } from './lib/once-more.mjs'
import { freePort } from './lib/ports.mjs'
import { caller, seedDemo } from './lib/seed.mjs'
import { startStack } from './lib/stack.mjs'
import { chromiumProgram, ensureSystemPackages } from './lib/system-packages.mjs'
import { leftToOtherDays } from './lib/turns.mjs'
import { ensureBuilt, ensureNodeModules, ROOT } from './lib/workspace.mjs'

const [half = 'all', ...rest] = process.argv.slice(2)
/** In full by `npm run faults`. */
const FAULT_ROUNDS = 2

const counted = { passed: 0, failed: 0 }
/** Said again at the end, where whoever reads the end of a long log finds them. */
const failures = []

await runMain(async () => {
  await ensureSystemPackages()
  await ensureNodeModules()
  await ensureBuilt()
  const home = mkdtempSync(join(tmpdir(), 'unvelt-test-'))
  // The cluster inside belongs to another user when root runs the tests.
  chmodSync(home, 0o755)
  try {
    if (half === 'all' || half === 'unit') await unitTests(home)
    if (half === 'all' || half === 'e2e') await interfaceTests(join(home, 'demo'))
    if (half === 'all' || half === 'faults') await faultsInShort(join(home, 'faults'))
  } finally {
    rmSync(home, { recursive: true, force: true })
  }
  if (counted.failed > 0 || counted.passed === 0) process.exitCode = 1
})
for (const { name, why } of failures) console.log(`\nFAILED ${name.replace(`${ROOT}/`, '')}\n${why}`)
console.log(`\n${counted.passed} passed, ${counted.failed} failed`)

async function unitTests(home) {
  const cluster = await startCluster(home, { throwaway: true })
  const report = join(home, 'jest.json')
  let result
  try {
    const left = leftToOtherDays('unit')
    const others =
      left.length === 0 ? [] : ['--testPathIgnorePatterns', `/(server|standin)/test/(${left.join('|')})\\.test\\.ts$`]
    if (left.length > 0) console.log(`Left to other days: ${left.join(', ')}`)
    const jest = (file, args) =>
      runner('jest', ['--json', `--outputFile=${file}`, ...args], {
        TEST_DATABASE_URL: cluster.url('postgres'),
        UNVELT_CHROMIUM: chromiumProgram(),
        NODE_OPTIONS: '--experimental-vm-modules --disable-warning=ExperimentalWarning',
      })
    await jest(report, [...others, ...rest])
    result = reportOf(report)
    const again = filesToTryAgain(result)
    if (again.length > 0) {
      // A machine that gives half its time to others makes browsers miss what they are given minutes for. What is wrong fails twice.
      console.log(`\nOnce more, one after the other: ${again.map((file) => file.replace(`${ROOT}/`, '')).join(', ')}`)
      await jest(`${report}.again`, ['--runInBand', '--runTestsByPath', ...again])
      result = withSecondTry(result, reportOf(`${report}.again`))
    }
  } finally {
    await cluster.stop()
  }
  counted.passed += result.numPassedTests
  counted.failed += result.numFailedTests + result.numRuntimeErrorTestSuites
  failures.push(...failuresOfJest(result))
}

async function interfaceTests(home) {
  // Eight pages are enough to drive the interface over, and sixty take ten minutes to sweep.
  process.env.STANDIN_PAGES = '8'
  // Its access log tells loads apart by their order.
  process.env.UNVELT_PAGES_AT_A_TIME = '1'
  const port = await freePort()
  const standinPort = await freePort()
  const stack = await startStack({ home, port, standinPort, throwaway: true })
  const report = join(home, 'playwright.json')
  // A second one, whole and with its past, for what is done after a sweep and changes nothing at the site.
  const withPast = await stackWithPast(join(home, 'past'))
  try {
    const left = leftToOtherDays('e2e')
    if (left.length > 0) console.log(`Left to other days: ${left.join(', ')}`)
    await runner('playwright', ['test', '-c', 'e2e', ...rest], {
      UNVELT_LEFT_OUT: left.join('|'),
      UNVELT_URL: stack.address,
      UNVELT_PAST_URL: withPast.address,
      STANDIN_PAST_URL: withPast.standinAddress,
      STANDIN_PAST_KEY: withPast.connectorKey,
      STANDIN_PAST_LOG: join(home, 'past/log/standin-access.log'),
      STANDIN_URL: stack.standinAddress,
      STANDIN_KEY: stack.connectorKey,
      STANDIN_DATABASE_URL: stack.standinDatabaseUrl,
      STANDIN_LOG: join(home, 'log/standin-access.log'),
      UNVELT_CHROMIUM: chromiumProgram(),
      PLAYWRIGHT_JSON_OUTPUT_NAME: report,
    })
    const result = JSON.parse(readFileSync(report, 'utf8'))
    const { stats } = result
    failures.push(...failuresOfPlaywright(result))
    counted.passed += stats.expected + stats.flaky
    counted.failed += stats.unexpected
  } catch (error) {
    counted.failed += 1
    console.error(error)
  } finally {
    await withPast.stop()
    await stack.stop()
  }
}

/** A few rounds of `npm run faults`, each time others. */
async function faultsInShort(home) {
  const seed = Math.floor(Date.now() / 86_400_000)
  const stack = await startStack({
    home,
    port: await freePort(),
    standinPort: await freePort(),
    throwaway: true,
    hushed: true,
    keepSite: true,
  })
  const rounds = Number(rest[0] ?? FAULT_ROUNDS)
  try {
    const found = await faultRounds(stack, { rounds, seed, tell: (line) => console.log(`  faults ${line}`) })
    const sum = Object.values(found).reduce((a, b) => a + b, 0)
    if (sum === 0) counted.passed += 1
    else {
      counted.failed += 1
      failures.push({ name: `faults with the seed ${seed}`, why: JSON.stringify(found) })
    }
  } catch (error) {
    counted.failed += 1
    failures.push({ name: `faults with the seed ${seed}`, why: String(error) })
  } finally {
    await stack.stop()
  }
}

async function stackWithPast(home) {
  const { STANDIN_PAGES, UNVELT_PAGES_AT_A_TIME } = process.env
  delete process.env.STANDIN_PAGES
  delete process.env.UNVELT_PAGES_AT_A_TIME
  try {
    const stack = await startStack({ home, port: await freePort(), standinPort: await freePort(), throwaway: true })
    await seedDemo(stack)
    // Playing guards takes a minute a change; one test has them played.
    await caller(stack.address)('PATCH', '/sites/1', { net: 'off' })
    return stack
  } finally {
    Object.assign(process.env, { STANDIN_PAGES, UNVELT_PAGES_AT_A_TIME })
  }
}

/** Runs one of our tools to its end; what it counts is in its report, so its exit code says nothing new. */
function runner(tool, args, env) {
  return new Promise((resolve, reject) => {
    const child = spawn(join(ROOT, 'node_modules/.bin', tool), args, {
      cwd: ROOT,
      stdio: ['ignore', 'inherit', 'inherit'],
      env: { ...process.env, ...env },
    })
    child.once('error', reject)
    child.once('exit', resolve)
  })
}
