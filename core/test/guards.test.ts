import fc from 'fast-check'
import { findsNoMore, judgeGuards, type GuardName } from '../src/guard/guards.js'
import { isSteady } from '../src/guard/steady.js'
import type { Landmark, GuardLook } from '../src/guard/guard-look.js'

const MAIN: Landmark = { role: 'main', name: '', x: 100, y: 120, width: 800, height: 2_000 }
const LOOK: GuardLook = {
  status: 200,
  title: 'Opening hours',
  path: '/opening-hours',
  errors: [],
  failed: [],
  landmarks: [MAIN],
  links: ['/', '/about'],
  fields: ['/search#q:search'],
  controls: ['button: Menu', 'link: About'],
  shift: 0,
  steps: [{ name: 'open the menu', outcome: 'done', controls: ['button: Menu', 'link: Trees'] }],
}
const of = (guard: GuardName, without: GuardLook[], withRules: GuardLook[]) =>
  judgeGuards(without, withRules).find((result) => result.guard === guard)!

it('a page that stays as it is passes all guards', () => {
  const results = judgeGuards([LOOK, LOOK], [LOOK], [0])
  expect(results.map(({ outcome }) => outcome)).toEqual(results.map(() => 'holds'))
})

it.each<[GuardName, Partial<GuardLook>, string]>([
  ['answer', { status: 500 }, 'status 200'],
  ['answer', { title: 'Not found' }, 'title Opening hours'],
  ['layout', { landmarks: [] }, 'main is gone'],
  ['layout', { landmarks: [{ ...MAIN, width: 300 }] }, 'main is 300 px wide, not 800 px'],
  ['layout', { landmarks: [{ ...MAIN, height: 40 }] }, 'main is 40 px high, not 2000 px'],
  ['layout', { landmarks: [{ ...MAIN, x: 500 }] }, 'main stands at 500 px from the left, not 100 px'],
  ['layout', { landmarks: [{ ...MAIN, y: 9_000 }] }, 'main stands at 9000 px from the top, not 120 px'],
  ['links', { links: ['/'] }, '/about'],
  ['fields', { fields: [] }, '/search#q:search'],
  ['controls', { controls: ['link: About'] }, 'button: Menu'],
  ['steps', { steps: [{ name: 'open the menu', outcome: 'failed', controls: [] }] }, 'open the menu'],
  [
    'steps',
    { steps: [{ name: 'open the menu', outcome: 'done', controls: ['button: Menu'] }] },
    'open the menu → link: Trees',
  ],
])('%s is missed in %j', (guard, changed, said) => {
  const result = of(guard, [LOOK, LOOK], [{ ...LOOK, ...changed }])
  expect(result.outcome).toBe('fails')
  expect(result.gone).toContain(said)
})

it('new errors, failed requests, shifts and pictures count', () => {
  const worse = { ...LOOK, errors: ['$ is not defined'], failed: ['GET /a.js 404'], shift: 0.3 }
  const failing = judgeGuards([LOOK], [worse], [0.2]).filter(({ outcome }) => outcome === 'fails')
  expect(failing.map(({ guard }) => guard)).toEqual(['errors', 'requests', 'shift', 'picture'])
})

it('what the page does by itself is held against nobody', () => {
  const moody = { ...LOOK, errors: ['flaky'], links: ['/'], controls: ['button: Menu'], landmarks: [] }
  const failing = judgeGuards([LOOK, moody], [moody], 'aside').filter(({ outcome }) => outcome === 'fails')
  expect(failing).toEqual([])
})

it('a page that only becomes shorter above its content does not fail', () => {
  const shorter = { ...LOOK, landmarks: [{ ...MAIN, y: 60, height: 1_700 }] }
  expect(of('layout', [LOOK], [shorter]).outcome).toBe('holds')
})

it('what shows in no more than half of the readings with rules is chance', () => {
  const once = { ...LOOK, errors: ['timeout'] }
  expect(of('errors', [LOOK], [once, LOOK, LOOK]).outcome).toBe('holds')
  expect(of('errors', [LOOK], [once, LOOK]).outcome).toBe('holds')
  expect(of('errors', [LOOK], [once, once, LOOK]).outcome).toBe('fails')
})

it('what was found before is known again by its entries, or by its size', () => {
  const lost = (...gone: string[]) => ({ guard: 'links' as const, gone, came: [] })
  expect(findsNoMore(lost('/a'), lost('/a', '/b'))).toBe(true)
  expect(findsNoMore(lost('/a', '/c'), lost('/a', '/b'))).toBe(false)
  // What is gone now is another matter than the same that came.
  expect(findsNoMore(lost('/a'), { guard: 'links', gone: [], came: ['/a'] })).toBe(false)
  const picture = (size: number) => ({ guard: 'picture' as const, gone: [], came: [`${size}`], size })
  expect(findsNoMore(picture(0.22), picture(0.2))).toBe(true)
  expect(findsNoMore(picture(0.9), picture(0.2))).toBe(false)
})

const words = fc.array(fc.constantFrom('a', 'b', 'c', 'constructor', '__proto__', ''), { maxLength: 4 })
const landmark = fc.record({
  role: fc.constantFrom('main', 'navigation'),
  name: fc.constantFrom('', 'x'),
  x: fc.integer({ min: 0, max: 500 }),
  y: fc.integer({ min: 0, max: 500 }),
  width: fc.integer({ min: 0, max: 900 }),
  height: fc.integer({ min: 0, max: 900 }),
})
const look: fc.Arbitrary<GuardLook> = fc.record({
  status: fc.constantFrom(200, 404, null),
  title: fc.constantFrom('a', 'b'),
  path: fc.constant('/'),
  errors: words,
  failed: words,
  landmarks: fc.array(landmark, { maxLength: 3 }),
  links: words,
  fields: words,
  controls: words,
  shift: fc.constantFrom(0, 0.2, null),
  steps: fc.array(
    fc.record({ name: fc.constantFrom('s', 't'), outcome: fc.constantFrom('done', 'failed'), controls: words }),
    { maxLength: 2 },
  ),
})

it('no guard fails where a reading with rules is one of those without them', () => {
  fc.assert(
    fc.property(fc.array(look, { minLength: 1, maxLength: 4 }), fc.nat(), (without, n) => {
      const same = without[n % without.length]!
      expect(judgeGuards(without, [same]).filter(({ outcome }) => outcome === 'fails')).toEqual([])
    }),
  )
})

it('a page is steady that lists the same each time, in whatever order, however its parts shift', () => {
  const moved = { ...LOOK, shift: 0.5, landmarks: [{ ...MAIN, height: 9 }], links: [...LOOK.links].reverse() }
  expect(
    isSteady([
      [LOOK, moved],
      [LOOK, LOOK],
    ]),
  ).toBe(true)
  expect(
    isSteady([
      [LOOK, { ...LOOK, errors: ['now and then'] }],
      [LOOK, LOOK],
    ]),
  ).toBe(false)
  expect(isSteady([[LOOK, LOOK], [LOOK]])).toBe(false)
})

it('where much moves by itself, a little more of it is no loss', () => {
  const shifted = (shift: number) => ({ ...LOOK, shift })
  expect(of('shift', [shifted(0.094)], [shifted(0.108)]).outcome).toBe('holds')
  expect(of('shift', [shifted(0.094)], [shifted(0.12)]).outcome).toBe('fails')
  expect(of('shift', [shifted(0)], [shifted(0.011)]).outcome).toBe('fails')
})
