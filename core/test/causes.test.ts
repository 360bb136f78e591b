import fc from 'fast-check'
import {
  complainsOf,
  complaintsOf,
  isSameComplaint,
  newComplaints,
  nextOf,
  type CauseStage,
  type Complaint,
  type Suspicion,
} from '../src/index.js'

const error = (text: string): Complaint => ({ kind: 'errors', text })

describe('complaints', () => {
  it('are the same whatever numbers they name, and each is told once', () => {
    expect(isSameComplaint(error('a is not defined at 10:3'), error('a is not defined at 88:1'))).toBe(true)
    expect(isSameComplaint(error('x'), { kind: 'requests', text: 'x' })).toBe(false)
    const look = { errors: ['late by 3 ms', 'late by 9 ms', 'other'], failed: ['GET https://a.test/x: 404'] }
    expect(complaintsOf(look).map(({ text }) => text)).toEqual(['late by 3 ms', 'other', 'GET https://a.test/x: 404'])
    expect(complainsOf(look, error('late by 1,5 ms'))).toBe(true)
    expect(complainsOf(look, error('something else'))).toBe(false)
  })
})

describe('what pages complain of anew', () => {
  const page = (n: number, ...complaints: Complaint[]) => [n, complaints] as const
  const failed = (text: string): Complaint => ({ kind: 'requests', text })

  it('is each thing once with all its pages, the most pages first', () => {
    const before = new Map([page(1), page(2, error('old')), page(3)])
    const now = new Map([
      page(1, error('late by 3 ms'), error('x')),
      page(2, error('old'), error('x')),
      page(3, error('x'), error('old')),
    ])
    expect(newComplaints(now, before)).toEqual([
      { kind: 'errors', text: 'x', pages: [1, 2, 3] },
      { kind: 'errors', text: 'late by 3 ms', pages: [1] },
      // It was heard before, but on another page.
      { kind: 'errors', text: 'old', pages: [3] },
    ])
  })

  it('is nothing of a page that was not read before, nor what a page stops by itself', () => {
    const now = new Map([page(1, error('x')), page(2, failed('GET https://a.test/beat: cancelled'))])
    expect(newComplaints(now, new Map([page(2)]))).toEqual([])
    expect(newComplaints(new Map([page(2, failed('GET https://a.test/x: 404'))]), new Map([page(2)]))).toHaveLength(1)
  })
})

const SURE = 2
const suspicions = (ids: readonly string[]): Suspicion[] => ids.map((id) => ({ id, reasons: ['there'] }))

/** Asks a page that complains wherever `complains` says, as the search does. */
function search(
  ids: readonly string[],
  complains: (present: ReadonlySet<string>) => boolean,
  level: CauseStage['level'] = 'addon',
) {
  const stage: Pick<CauseStage, 'level' | 'suspects' | 'tries'> = { level, suspects: suspicions(ids), tries: [] }
  for (let asked = 0; ; asked++) {
    const next = nextOf(stage, SURE)
    if (!('ask' in next)) return { ...next, asked }
    const answer = {
      changes: next.ask,
      fails: complains(new Set(next.ask)),
      readings: next.readings,
    }
    const before = stage.tries.find(({ changes }) => JSON.stringify(changes) === JSON.stringify(next.ask))
    stage.tries = before
      ? stage.tries.map((one) => (one === before ? { ...answer, readings: (one.readings ?? 0) + next.readings } : one))
      : [...stage.tries, answer]
    if (asked > 200) throw new Error('never ends')
  }
}

describe('what a page complains for', () => {
  const ids = Array.from({ length: 24 }, (_, n) => `a${n}`)

  it('is found whatever it takes, in far fewer readings than there are suspects', () => {
    fc.assert(
      fc.property(fc.uniqueArray(fc.constantFrom(...ids), { minLength: 1, maxLength: 3 }), (guilty) => {
        const { outcome, found, asked } = search(ids, (present) => guilty.every((id) => present.has(id)))
        expect(outcome).toBe('found')
        expect([...found].sort()).toEqual([...guilty].sort())
        if (guilty.length === 1) expect(asked).toBeLessThanOrEqual(12)
      }),
    )
  })

  it('is none of the suspects where the page complains without any, and nothing where it does not any more', () => {
    expect(search(ids, () => true)).toEqual({ outcome: 'without', found: [], asked: 2 })
    expect(search(ids, () => false)).toEqual({ outcome: 'never', found: [], asked: 1 })
    expect(search([], () => true)).toEqual({ outcome: 'without', found: [], asked: 1 })
    expect(search([], () => false)).toEqual({ outcome: 'never', found: [], asked: 1 })
  })

  it('of one suspect alone it is asked with it and without', () => {
    expect(search(['a'], (present) => present.has('a'))).toEqual({ outcome: 'found', found: ['a'], asked: 2 })
  })

  it('of versions one after the other is put in its place, until one is as it should be', () => {
    const versions = ['3.2', '3.1', '3.0']
    const asked = (fine: string[]) => search(versions, (present) => !fine.some((id) => present.has(id)), 'version')
    expect(asked(['3.2', '3.0'])).toEqual({ outcome: 'found', found: ['3.2'], asked: 1 })
    expect(asked(['3.0'])).toEqual({ outcome: 'found', found: ['3.0'], asked: 3 })
    expect(asked([])).toEqual({ outcome: 'without', found: [], asked: 3 })
  })
})
