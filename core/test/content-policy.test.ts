import { withScriptsAllowed } from '../src/rewrite/content-policy.js'

const HASH = "'sha256-abc='"

it.each([
  ["script-src 'self'", `script-src 'self' ${HASH}`],
  ["default-src 'self'; img-src *", `default-src 'self'; img-src *; script-src 'self' ${HASH}`],
  ["script-src 'none'", `script-src ${HASH}`],
  ["Script-Src 'nonce-x' 'unsafe-inline'", `Script-Src 'nonce-x' 'unsafe-inline' ${HASH}`],
  ["script-src 'self'; script-src-elem x.test", `script-src 'self'; script-src-elem x.test ${HASH}`],
  ["script-src 'self'; script-src *", `script-src 'self' ${HASH}; script-src *`],
  ["script-src a.test, default-src 'none'", `script-src a.test ${HASH}, default-src 'none'; script-src ${HASH}`],
])('%s lets the script run', (policy, expected) => expect(withScriptsAllowed(policy, [HASH])).toBe(expected))

it.each(["img-src 'self'", "script-src 'self' 'unsafe-inline'", '', ';;', `script-src 'self' ${HASH}`])(
  '%s needs nothing',
  (policy) => expect(withScriptsAllowed(policy, [HASH])).toBe(policy),
)

it('nothing to be let in changes nothing', () => {
  expect(withScriptsAllowed("script-src 'self'", [])).toBe("script-src 'self'")
})
