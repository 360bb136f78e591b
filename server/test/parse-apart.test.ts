import { endThreads, parseApart } from '../src/parse/parse-apart.js'

afterAll(endThreads)

const RULE = '.a .b>.c:not(.d),.e~.f{color:red}'

it('a stylesheet that takes for ever is given up, and nothing else waits for it', async () => {
  let ticks = 0
  const clock = setInterval(() => ticks++, 10)
  const answer = await parseApart('style', RULE.repeat(100_000), 600)
  clearInterval(clock)
  expect(answer).toBeNull()
  // Whoever parsed it here would have stood still for all that time.
  expect(ticks).toBeGreaterThan(15)
})

it('it is the time that runs out: what is given longer is answered', async () => {
  const long = RULE.repeat(10_000)
  expect(await parseApart('style', long, 5)).toBeNull()
  expect(await parseApart('style', long, 60_000)).toHaveLength(10_000)
})

it('what is longer than anybody writes is not looked at, and what is not is', async () => {
  expect(await parseApart('style', ' '.repeat(4_000_001))).toBeNull()
  expect(await parseApart('style', 'a{x:1}')).toHaveLength(1)
})
