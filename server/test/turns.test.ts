import fc from 'fast-check'
import { Turns } from '../src/measure/turns.js'

it('never has anything beside what is to be alone, and ends all that was begun', () =>
  fc.assert(
    fc.asyncProperty(
      fc.array(fc.record({ alone: fc.boolean(), ticks: fc.nat(5), fails: fc.boolean() }), { maxLength: 30 }),
      async (jobs) => {
        const turns = new Turns()
        let alone = 0
        let beside = 0
        const ended = await Promise.allSettled(
          jobs.map((job) =>
            turns[job.alone ? 'alone' : 'beside'](async () => {
              if (job.alone) alone++
              else beside++
              for (let tick = 0; tick <= job.ticks; tick++) {
                if (alone > 1 || (alone === 1 && beside > 0)) throw new Error('not alone')
                await Promise.resolve()
              }
              if (job.alone) alone--
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

it('serves in the order of coming: what waits to be alone is not passed by', async () => {
  const turns = new Turns()
  const began: string[] = []
  const ends: (() => void)[] = []
  const job = (name: string) => () => {
    began.push(name)
    return new Promise<void>((resolve) => ends.push(resolve))
  }
  const all = [
    turns.beside(job('first')),
    turns.beside(job('second')),
    turns.alone(job('alone')),
    turns.beside(job('late')),
  ]
  const settle = () => new Promise((resolve) => setImmediate(resolve))
  await settle()
  expect(began).toEqual(['first', 'second'])
  for (let n = 0; n < 4; n++) {
    ends[n]!()
    await settle()
  }
  expect(began).toEqual(['first', 'second', 'alone', 'late'])
  await Promise.all(all)
})
