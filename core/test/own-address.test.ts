import fc from 'fast-check'
import { OWN_PATH, ownAddress } from '../src/address/own-address.js'

const ORIGIN = 'https://site.example:8443'

/** Strings that are made of what address parsers trip over. */
const tricky = fc
  .array(
    fc.constantFrom(
      ...[
        '/',
        '\\',
        '\t',
        '\n',
        '\r',
        '\0',
        '@',
        ':',
        '.',
        '..',
        '//',
        '?',
        '#',
        '%2f',
        ' ',
        'a',
        'evil.test',
        'https:',
      ],
      ...['http://', '\u2028', '\u3002', '[::1]', '8443', 'site.example', '\u007f'],
    ),
    { maxLength: 8 },
  )
  .map((parts) => parts.join(''))

it.each(['/', '/sign-in', '/a?b=//c', '/a b', '/ä', `${ORIGIN}/x`, '?q=1'])('takes %j', (address) =>
  expect(ownAddress(ORIGIN, address)?.origin).toBe(ORIGIN),
)

it.each([
  ...['//evil.test/', '/\\evil.test/', '\\\\evil.test', '/\t/evil.test:80/x', '/\n/evil.test', 'https://evil.test/'],
  ...['https://site.example/', 'http://site.example:8443/', 'javascript:alert(1)', 'https://me@site.example:8443/'],
  ...['https://:x@site.example:8443/', 'data:text/html,x'],
])('refuses %j', (address) => expect(ownAddress(ORIGIN, address)).toBeNull())

it('never gives an address of another origin, nor one with a name and password in it', () => {
  fc.assert(
    fc.property(tricky, (text) => {
      const url = ownAddress(ORIGIN, text)
      if (url) expect([url.origin, url.username, url.password]).toEqual([ORIGIN, '', ''])
    }),
    { numRuns: 3_000 },
  )
})

it('finds every path of a site on it, by either sort of scheme', () => {
  fc.assert(
    fc.property(
      tricky.map((text) => `/${text}`),
      fc.constantFrom(ORIGIN, 'http://other.localhost'),
      (path, origin) => {
        if (OWN_PATH.test(path)) expect(ownAddress(origin, path)?.origin).toBe(origin)
      },
    ),
    { numRuns: 3_000 },
  )
})

it('refuses as a path whatever leads elsewhere', () => {
  fc.assert(
    fc.property(
      tricky.map((text) => `/${text}`),
      (path) => {
        const leadsElsewhere = URL.canParse(path, ORIGIN) && new URL(path, ORIGIN).origin !== ORIGIN
        if (leadsElsewhere) expect(OWN_PATH.test(path)).toBe(false)
      },
    ),
    { numRuns: 3_000 },
  )
})
