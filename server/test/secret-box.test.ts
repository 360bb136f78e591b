import { randomBytes } from 'node:crypto'
import { open, seal } from '../src/site-http/secret-box.js'

it('opens only what it sealed itself, and seals alike things unlike', () => {
  const secret = randomBytes(32)
  const sealed = seal('clé', secret)
  expect(open(sealed, secret)).toBe('clé')
  expect(seal('clé', secret)).not.toBe(sealed)
  expect(() => open(sealed, randomBytes(32))).toThrow()
  expect(() => open(sealed.slice(0, -6) + 'AAAAA=', secret)).toThrow()
})
