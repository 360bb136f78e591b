import fc from 'fast-check'
import { Turns } from '../src/worker/turns.js'

it('never has anything beside what is to be alone, and ends all that was begun', () =>
  fc.assert(
    fc.asyncProperty(
      fc.array(
        fc.record({
          way: fc.constantFrom('alone' as const, 'beside' as const, 'gathered' as const),
          ticks: fc.nat(5),
          fails: fc.boolean(),
        }),
        { maxLength: 30 },
      ),
      async (jobs) => {
        const turns = new Turns()
        let alone = 0
        let beside = 0
        const ended = await Promise.allSettled(
          jobs.map((job) =>
            turns[job.way](async () => {
              if (job.way === 'alone') alone++
              else beside++
              for (let tick = 0; tick <= job.ticks; tick++) {
                if (alone > 1 || (alone === 1 && beside > 0)) throw new Error('not alone')
                await Promise.resolve()
              }
              if (job.way === 'alone') alone--
              else beside--
              if (job.fails) throw new Error('as it was told')
            }),
          ),
        )
        const reasons = ended.map((end) => (end.status === 'rejected' ? (end.reason as Error).message : ''))
        expect(reasons).toEqual(jobs.map(({ fails }) => (fails ? 'as it was told' : '')))
      },
    ),
  ))

const settle = () => new Promise((resolve) => setTimeout(resolve))

describe('of those that wait', () => {
  let began: string[]
  let ends: Map<string, () => void>
  const job = (name: string) => () => {
    began.push(name)
    return new Promise<void>((resolve) => ends.set(name, resolve))
  }
  const end = async (name: string) => {
    ends.get(name)!()
    await settle()
  }
  beforeEach(() => {
    began = []
    ends = new Map()
  })

  it('what may overlap joins, and what is to be alone follows each other', async () => {
    const turns = new Turns()
    const all = [
      turns.beside(job('first')),
      turns.alone(job('alone')),
      turns.beside(job('second')),
      turns.alone(job('alone too')),
    ]
    await settle()
    expect(began).toEqual(['first', 'second'])
    await end('first')
    expect(began).toHaveLength(2)
    await end('second')
    expect(began.slice(2)).toEqual(['alone'])
    all.push(turns.beside(job('late')))
    await end('alone')
    expect(began.slice(3)).toEqual(['alone too'])
    await end('alone too')
    expect(began.slice(4)).toEqual(['late'])
    await end('late')
    await Promise.all(all)
  })

  it('long work gathers until no page is in the middle of its timed loads', async () => {
    const turns = new Turns()
    const series = turns.newSeries()
    series.begin()
    series.begin()
    const all = [turns.gathered(job('long')), turns.beside(job('short')), turns.alone(job('timed'))]
    await settle()
    expect(began).toEqual(['short'])
    await end('short')
    expect(began).toEqual(['short', 'timed'])
    all.push(turns.gathered(job('long too')))
    await end('timed')
    expect(began).toHaveLength(2)
    series.end()
    await settle()
    expect(began.slice(2)).toEqual(['long', 'long too'])
    await end('long')
    await end('long too')
    await Promise.all(all)
  })

  it('long work does not wait for ever for a series that goes on and on', async () => {
    const turns = new Turns()
    turns.newSeries().begin()
    const all = [turns.gathered(job('long'))]
    let n = 0
    for (; n < 200 && !began.includes('long'); n++) {
      all.push(turns.alone(job(`${n}`)))
      await settle()
      if (began.includes(`${n}`)) await end(`${n}`)
    }
    expect(n).toBeGreaterThan(20)
    expect(began).toContain('long')
    await end('long')
    await settle()
    if (began.at(-1) !== 'long') await end(began.at(-1)!)
    await Promise.all(all)
  })

  it.each([true, false])('nobody waits for ever (to be alone: %s)', async (alone) => {
    const turns = new Turns()
    const take = (isAlone: boolean, name: string) => turns[isAlone ? 'alone' : 'beside'](job(name))
    const all = [take(!alone, '0')]
    await settle()
    all.push(take(alone, 'patient'))
    // There is always one more of the other sort before the last has ended.
    let n = 0
    while (n < 50 && began.at(-1) !== 'patient') {
      all.push(take(!alone, `${n + 1}`))
      await end(`${n++}`)
    }
    expect(began.at(-1)).toBe('patient')
    expect(n).toBeGreaterThan(5)
    await end('patient')
    while (began.length < all.length || n < began.length - 1) await end(`${n++}`)
    await Promise.all(all)
  })
})
