import { createHash, randomBytes } from 'node:crypto'
import { once } from 'node:events'
import { connect, createServer, type AddressInfo, type Socket } from 'node:net'
import fc from 'fast-check'
import { Lane, pacedPipe } from '../src/reach/paced-pipe.js'

describe('a lane', () => {
  const pieces = fc.array(fc.record({ bytes: fc.integer({ min: 1, max: 5_000 }), gap: fc.nat(50) }), {
    minLength: 1,
    maxLength: 60,
  })

  it('lets nothing overtake, nothing through faster than its rate, and nothing wait while it is free', () =>
    fc.assert(
      fc.property(pieces, fc.integer({ min: 1, max: 2_000 }), fc.nat(500), (list, rate, delay) => {
        const lane = new Lane(rate, delay)
        let now = 0
        let free = 0
        let last = 0
        for (const { bytes, gap } of list) {
          now += gap
          const arrival = lane.arrival(bytes, now)
          free = Math.max(free, now) + bytes / rate
          expect(arrival).toBeCloseTo(free + delay, 6)
          expect(arrival).toBeGreaterThanOrEqual(last)
          last = arrival
        }
      }),
    ))

  it('that is opened holds nothing up any more', () => {
    const lane = new Lane(1, 400)
    expect(lane.arrival(1_000, 0)).toBe(1_400)
    lane.open()
    expect(lane.arrival(1_000, 5)).toBe(5)
  })
})

describe('what goes through', () => {
  /** Two ends with paced pipes between them. */
  async function line(down: Lane) {
    const ends: Socket[] = []
    const far = createServer({ allowHalfOpen: true }, (socket) => ends.push(socket))
    await new Promise<void>((resolve) => far.listen(0, '127.0.0.1', resolve))
    const near = createServer({ allowHalfOpen: true }, (client) => {
      const onward = connect({ port: (far.address() as AddressInfo).port, host: '127.0.0.1', allowHalfOpen: true })
      ends.push(client, onward)
      for (const end of [client, onward]) end.on('error', () => end.destroy())
      pacedPipe(client, onward, new Lane(Infinity, 0))
      pacedPipe(onward, client, down)
    })
    await new Promise<void>((resolve) => near.listen(0, '127.0.0.1', resolve))
    const client = connect({ port: (near.address() as AddressInfo).port, host: '127.0.0.1', allowHalfOpen: true })
    client.on('error', () => client.destroy())
    client.write('hello')
    const [taken] = (await once(far, 'connection')) as [Socket]
    taken.on('error', () => taken.destroy())
    return {
      client,
      far: taken,
      async stop() {
        client.destroy()
        for (const end of ends) end.destroy()
        await Promise.all([far, near].map((server) => new Promise((resolve) => server.close(resolve))))
      },
    }
  }

  it('comes whole, in order and to its end, at the rate, however it was cut', async () => {
    const { client, far, stop } = await line(new Lane(500, 30))
    const sent = randomBytes(200_000)
    const began = performance.now()
    for (let at = 0, size = 1; at < sent.length; at += size, size = ((size * 7) % 9_001) + 1)
      far.write(sent.subarray(at, at + size))
    far.end()
    const hash = createHash('sha256')
    for await (const chunk of client) hash.update(chunk as Buffer)
    const took = performance.now() - began
    expect(hash.digest('hex')).toBe(createHash('sha256').update(sent).digest('hex'))
    expect(took).toBeGreaterThan(420)
    await stop()
  })

  it('fills a long and wide line, though each byte is long under way', async () => {
    const { client, far, stop } = await line(new Lane(5_000, 100))
    const began = performance.now()
    far.end(Buffer.alloc(1_000_000))
    let came = 0
    for await (const chunk of client) came += (chunk as Buffer).length
    // 200 ms to send, 100 ms under way; a sender that waited for each share would take ten times as long.
    expect(came).toBe(1_000_000)
    expect(performance.now() - began).toBeLessThan(1_500)
    await stop()
  })

  it('is not read on while the line is full', async () => {
    const { client, far, stop } = await line(new Lane(200, 0))
    client.resume()
    let taken = 0
    const megabyte = Buffer.alloc(1 << 20)
    for (let n = 0; n < 64 && far.write(megabyte, () => (taken += 1)); n++);
    await once(client, 'data')
    // What the system keeps on the way is a few megabytes; the rest waits with the sender.
    expect(far.writableLength).toBeGreaterThan(0)
    expect(taken).toBeLessThan(16)
    await stop()
  })
})
