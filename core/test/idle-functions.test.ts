import { once } from 'node:events'
import { Worker } from 'node:worker_threads'
import fc from 'fast-check'
import { toBytes, type Range } from '../src/idle/byte-ranges.js'
import { idleFunctions } from '../src/idle/idle-functions.js'
import { usedOfScript, type FunctionCoverage } from '../src/idle/script-use.js'
import { heldByScripts } from '../src/idle/used-nowhere.js'

/** In an isolate of its own: V8 tells about everything that is loaded, and here that is the whole of what tests are run with. */
const RUNNER = `
const { Session } = require('node:inspector/promises')
const { Script, createContext } = require('node:vm')
const { parentPort } = require('node:worker_threads')
parentPort.on('message', async (code) => {
  const session = new Session()
  session.connect()
  await session.post('Profiler.enable')
  await session.post('Profiler.startPreciseCoverage', { callCount: true, detailed: true })
  new Script(code, { filename: 'under-test.js' }).runInContext(
    createContext({ addEventListener() {}, setTimeout() {}, give() {} }),
  )
  const { result } = await session.post('Profiler.takePreciseCoverage')
  session.disconnect()
  parentPort.postMessage(result.find(({ url }) => url === 'under-test.js').functions)
})`
let runner: Worker
beforeAll(() => void (runner = new Worker(RUNNER, { eval: true })))
afterAll(() => runner.terminate())

/** What V8 says has run of a script. */
async function ran(code: string): Promise<Range[]> {
  runner.postMessage(code)
  const [functions] = (await once(runner, 'message')) as [FunctionCoverage[]]
  return toBytes(usedOfScript(functions), code)
}
const found = async (code: string) => idleFunctions(code, await ran(code))!

const CODE = `// Grün
function ran() { return 1 }
function lonely() { return 2 }
function asks() { return asked() + 'é' }
function asked() { return 3 }
function held() { return alsoHeld() }
function alsoHeld() { return 4 }
const arrow = () => 5
const tools = { pick() { return 6 }, 'two words': function () {}, get size() { return 1 }, used() { return 7 } }
class Pond { constructor() { this.x = 1 } fish() { return 8 } static make() { return new Pond() } toString() { return '' } #deep() {} }
addEventListener('scroll', function () { lonelyToo() })
setTimeout(() => held())
give(function () {})
give.onclick = () => 9
give.named = function () { function inner() {} return inner }
if (ran() > 1) held()
ran(); tools.used()
`

it('names functions that never ran, each with what speaks for it', async () => {
  const functions = await found(CODE)
  expect(functions.map(({ line, name, because }) => [line, name, because])).toEqual([
    [3, 'lonely', null],
    [4, 'asks', null],
    [5, 'asked', null],
    [6, 'held', 'called'],
    [7, 'alsoHeld', 'called'],
    [8, 'arrow', null],
    [9, 'tools.pick', null],
    [9, 'tools.two words', null],
    [9, 'tools.size', null],
    [10, 'Pond.constructor', null],
    [10, 'Pond.fish', null],
    [10, 'Pond.make', null],
    [10, 'Pond.toString', 'later'],
    [10, 'Pond.deep', null],
    [11, "addEventListener('scroll')", 'event'],
    [12, 'setTimeout()', 'later'],
    [13, 'give()', 'called'],
    [14, 'give.onclick', 'event'],
    [15, 'give.named', null],
  ])
  const asks = functions.find(({ name }) => name === 'asks')!
  expect(asks.bytes).toBe(Buffer.byteLength(CODE.slice(asks.from, asks.to)))
  expect(CODE.slice(asks.from, asks.to)).toMatch(/^function asks\(\).*\}$/)
  // Whatever another script names is kept, with what it asks for.
  const kept = heldByScripts(functions, (name) => name === 'asks')
  expect(kept.filter(({ because }) => because === 'script').map(({ name }) => name)).toEqual(['asks', 'asked'])
})

it('what another function that never ran asks for is held only if that one is', async () => {
  const functions = await found(
    `const a = { one() { this.two() }, two() { this.three() }, three() {} }\nconst key = 'three'`,
  )
  expect(functions.map(({ name, because }) => [name, because])).toEqual([
    ['a.one', null],
    ['a.two', null],
    ['a.three', 'called'],
  ])
})

it('modules, and code that no browser would take', () => {
  expect(idleFunctions('export function far() {}\nexport default function () {}', [[0, 6]])).toMatchObject([
    { name: 'far', because: null },
    { name: '', because: 'called' },
  ])
  expect(idleFunctions('#!/usr/bin/env node\nreturn function one() {}', [])).toMatchObject([{ name: 'one' }])
  expect(idleFunctions('function (', [])).toBeNull()
  expect(idleFunctions('', [])).toEqual([])
})

it('is right about every function of whatever mixture, and tells no byte twice', async () => {
  const part = fc.record({
    ways: fc.integer({ min: 0, max: 4 }),
    runs: fc.boolean(),
    text: fc.constantFrom('', 'ü', '🌳'),
  })
  const write = (parts: { ways: number; runs: boolean; text: string }[]) =>
    parts
      .map(({ ways, runs, text }, n) => {
        const body = `{ return '${text}' }`
        const made = [
          `function f${n}() ${body}`,
          `var f${n} = function () ${body}`,
          `var f${n} = () => ${body}`,
          `class C${n} { f${n}() ${body} }; var f${n} = C${n}.prototype.f${n}`,
          `var o${n} = { async f${n}() ${body} }; var f${n} = o${n}['f${n}']`,
        ][ways]!
        return `${made};${runs ? `f${n}();` : ''}`
      })
      .join('\n')
  await fc.assert(
    fc.asyncProperty(fc.array(part, { minLength: 1, maxLength: 12 }), async (parts) => {
      const code = write(parts)
      const functions = await found(code)
      expect(functions.map(({ name }) => Number(/f(\d+)$/.exec(name)![1]))).toEqual(
        parts.flatMap(({ runs }, n) => (runs ? [] : [n])),
      )
      const together = functions.reduce((sum, { bytes }) => sum + bytes, 0)
      expect(together).toBeLessThanOrEqual(Buffer.byteLength(code))
      for (const { from, to, bytes } of functions) expect(bytes).toBe(Buffer.byteLength(code.slice(from, to)))
    }),
    { numRuns: 60 },
  )
})
