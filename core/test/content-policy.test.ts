import { withHashesAllowed } from '../src/rewrite/content-policy.js'

const HASH = "'sha256-abc='"

it.each([
  ["script-src 'self'", `script-src 'self' ${HASH}`],
  ["default-src 'self'; img-src *", `default-src 'self'; img-src *; script-src 'self' ${HASH}`],
  ["script-src 'none'", `script-src ${HASH}`],
  ["Script-Src 'nonce-x' 'unsafe-inline'", `Script-Src 'nonce-x' 'unsafe-inline' ${HASH}`],
  ["script-src 'self'; script-src-elem x.test", `script-src 'self'; script-src-elem x.test ${HASH}`],
  ["script-src 'self'; script-src *", `script-src 'self' ${HASH}; script-src *`],
  ["script-src a.test, default-src 'none'", `script-src a.test ${HASH}, default-src 'none'; script-src ${HASH}`],
])('%s lets the script run', (policy, expected) =>
  expect(withHashesAllowed(policy, { scripts: [HASH], styles: [] })).toBe(expected),
)

it.each(["img-src 'self'", "script-src 'self' 'unsafe-inline'", '', ';;', `script-src 'self' ${HASH}`])(
  '%s needs nothing',
  (policy) => expect(withHashesAllowed(policy, { scripts: [HASH], styles: [] })).toBe(policy),
)

it('nothing to be let in changes nothing', () => {
  expect(withHashesAllowed("script-src 'self'; style-src 'none'", { scripts: [], styles: [] })).toBe(
    "script-src 'self'; style-src 'none'",
  )
})

it.each([
  ["style-src 'self'", `style-src 'self' ${HASH}`],
  ["style-src 'unsafe-inline'", "style-src 'unsafe-inline'"],
  ["default-src 'self'; script-src *", `default-src 'self'; script-src *; style-src 'self' ${HASH}`],
  ["script-src 'self'", "script-src 'self'"],
])('%s lets the style in', (policy, expected) =>
  expect(withHashesAllowed(policy, { scripts: [], styles: [HASH] })).toBe(expected),
)

it('what says one thing of all says both apart then', () => {
  expect(withHashesAllowed("default-src 'none'", { scripts: [HASH], styles: ["'sha256-s'"] })).toBe(
    `default-src 'none'; script-src ${HASH}; style-src 'sha256-s'`,
  )
})
