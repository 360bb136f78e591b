import { Scheduler } from '../src/cms/scheduler.js'

it('work that is due waits for the next look while the database is away', async () => {
  let asked = 0
  const database = {
    query() {
      asked += 1
      return Promise.reject(new Error('connect ECONNREFUSED'))
    },
  }
  const installed = { addOns: [{ manifest: { slug: 'tally' }, tasks: [{ name: 'count', run: async () => {} }] }] }
  const copies = { refreshDue: async () => {} }
  type Given = ConstructorParameters<typeof Scheduler>
  const scheduler = new Scheduler(
    database as never as Given[0],
    installed as never as Given[1],
    copies as never as Given[2],
  )
  await expect(scheduler.look('http://fernhollow.localhost')).resolves.toBeUndefined()
  await scheduler.look('http://fernhollow.localhost')
  expect(asked).toBe(2)
})
