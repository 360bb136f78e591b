import { createServer, connect, type AddressInfo, type Socket } from 'node:net'
import { SiteEvents } from '../src/events/site-events.js'

const real = new URL(process.env.TEST_DATABASE_URL!)
let isAway = false
const sockets = new Set<Socket>()
const asked: number[] = []
/** A database that can be away while those who look for it are counted. */
const door = createServer((socket) => {
  asked.push(Date.now())
  socket.on('error', () => {})
  if (isAway) return void socket.destroy()
  const behind = connect(Number(real.port || 5432), real.hostname)
  for (const each of [socket, behind]) {
    sockets.add(each)
    each.on('error', () => {}).on('close', () => sockets.delete(each))
  }
  socket.pipe(behind).pipe(socket)
})
let events: SiteEvents
beforeAll(async () => {
  await new Promise<void>((listening) => door.listen(0, '127.0.0.1', listening))
  const databaseUrl = new URL(real)
  databaseUrl.hostname = '127.0.0.1'
  databaseUrl.port = String((door.address() as AddressInfo).port)
  events = new SiteEvents({ databaseUrl: databaseUrl.href } as never)
  await events.onModuleInit()
})
afterAll(async () => {
  events.beforeApplicationShutdown()
  await events.onApplicationShutdown()
  for (const socket of sockets) socket.destroy()
  door.close()
})
const until = async (is: () => boolean | Promise<boolean>) => {
  while (!(await is())) await new Promise((resolve) => setTimeout(resolve, 20))
}

it('a database that is away is looked for once at a time, and heard once it is back', async () => {
  expect(await events.caughtUp()).toBe(true)
  isAway = true
  const before = asked.length
  for (const socket of sockets) socket.destroy()
  await until(() => asked.length >= before + 6)
  expect(await events.caughtUp()).toBe(false)
  const [first, , , , , sixth] = asked.slice(before)
  // Five waits of a second, of which clocks may take a little off; two more at each failure would need two of them.
  expect(sixth! - first!).toBeGreaterThan(4_500)
  let changes = 0
  events.changes.subscribe(() => changes++)
  isAway = false
  await until(() => events.caughtUp())
  // Whatever was written meanwhile, nobody has heard of it.
  expect(changes).toBe(1)
})
