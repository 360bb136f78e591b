import { areCopies, carriedOver } from '../src/copies/carried-over.js'
import { checkHostLines, hostsOfLines, linesOfHosts } from '../src/copies/host-lines.js'
import type { Site } from '@unvelt/contract'

const site = (id: number, copyOf: number | null) => ({ id, copyOf }) as Site

it('a copy and its original are copies of each other, and so are two copies of one', () => {
  expect(areCopies(site(1, null), site(2, 1))).toBe(true)
  expect(areCopies(site(2, 1), site(1, null))).toBe(true)
  expect(areCopies(site(2, 1), site(3, 1))).toBe(true)
  expect(areCopies(site(1, null), site(4, null))).toBe(false)
  expect(areCopies(site(2, 1), site(5, 4))).toBe(false)
  expect(areCopies(site(1, null), site(1, null))).toBe(false)
})

it('what names the one’s own host names the other’s, and nothing that only looks like it', () => {
  const file = {
    format: 'unvelt-rules/1',
    rules: [
      {
        target: { file: 'https://www.reeds.example/parts/a.js' },
        note: 'As on www.reeds.example.',
        place: { pattern: 'https://www.reeds.example:8443/x' },
        hosts: ['www.reeds.example', 'cdn.www.reeds.example', 'www.reeds.example.org'],
      },
    ],
  }
  expect(carriedOver(file, 'https://www.reeds.example', 'http://copy.test:8080')).toEqual({
    format: 'unvelt-rules/1',
    rules: [
      {
        target: { file: 'http://copy.test:8080/parts/a.js' },
        note: 'As on www.reeds.example.',
        place: { pattern: 'https://www.reeds.example:8443/x' },
        hosts: ['copy.test:8080', 'cdn.www.reeds.example', 'www.reeds.example.org'],
      },
    ],
  })
})

it('lines of a hosts file are read and written, and what is wrong is said with its line', () => {
  const hosts = hostsOfLines(
    '# the copy\n192.0.2.7  Copy.example.org static.example.org # both\n\n2001:db8::7 six.example.org',
  )
  expect(hosts).toEqual([
    { host: 'copy.example.org', address: '192.0.2.7' },
    { host: 'static.example.org', address: '192.0.2.7' },
    { host: 'six.example.org', address: '2001:db8::7' },
  ])
  expect(hostsOfLines(linesOfHosts(hosts))).toEqual(hosts)
  expect(checkHostLines('copy.example.org 192.0.2.7')).toBe('Line 1: expected an IP address first, such as 192.0.2.7.')
  expect(checkHostLines('\n192.0.2.7')).toBe('Line 2: expected a host name behind 192.0.2.7.')
  expect(checkHostLines('192.0.2.7 copy.example.org:8080')).toContain('copy.example.org:8080 is no host name')
})
