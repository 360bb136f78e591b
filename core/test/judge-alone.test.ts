import { judgeAlone, type GuardLook } from '../src/index.js'

const LOOK: GuardLook = {
  status: 200,
  title: 'Opening hours',
  path: '/opening-hours',
  errors: [],
  failed: [],
  landmarks: [],
  links: ['/'],
  fields: [],
  controls: [],
  shift: 0,
  steps: [{ name: 'open the menu', outcome: 'done', controls: [] }],
}
const failing = (...looks: Partial<GuardLook>[]) =>
  judgeAlone(looks.map((look) => ({ ...LOOK, ...look })))
    .filter(({ outcome }) => outcome === 'fails')
    .map(({ guard, gone, came }) => [guard, ...gone, ...came])

it('a page that answers, complains of nothing and whose steps can be done is sound; what needs another beside it is not known', () => {
  const results = judgeAlone([LOOK, LOOK])
  expect(results.filter(({ outcome }) => outcome === 'holds').map(({ guard }) => guard)).toEqual([
    'answer',
    'errors',
    'requests',
    'steps',
  ])
  expect(results.filter(({ outcome }) => outcome === 'unknown').map(({ guard }) => guard)).toEqual([
    'layout',
    'shift',
    'picture',
    'links',
    'fields',
    'controls',
  ])
  expect(judgeAlone([])).toEqual([])
})

it('tells what is wrong each time, and not what came once', () => {
  expect(failing({ status: 404 }, { status: 404 })).toEqual([['answer', 'status 404']])
  expect(failing({ status: null })).toEqual([['answer', 'status none']])
  expect(failing({ status: 503 }, {})).toEqual([])
  expect(failing({ errors: ['x is not defined', 'late'] }, { errors: ['x is not defined'] })).toEqual([
    ['errors', 'x is not defined'],
  ])
  expect(failing({ failed: ['GET /a.js: 404'] }, { failed: ['GET /a.js: 404'] })).toEqual([
    ['requests', 'GET /a.js: 404'],
  ])
  const leftBehind = { failed: ['POST /visit: cancelled'] }
  expect(failing(leftBehind, leftBehind)).toEqual([])
  const failed = { steps: [{ name: 'search', outcome: 'failed' as const, why: 'no result is seen', controls: [] }] }
  expect(failing(failed, failed)).toEqual([['steps', 'search: no result is seen']])
  expect(failing(failed, {})).toEqual([])
  const absent = { steps: [{ name: 'search', outcome: 'not there' as const, controls: [] }] }
  expect(failing(absent, absent)).toEqual([])
})

it('a page without steps has no guard of steps to hold', () => {
  expect(judgeAlone([{ ...LOOK, steps: [] }]).find(({ guard }) => guard === 'steps')!.outcome).toBe('unknown')
})
