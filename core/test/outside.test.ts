import fc from 'fast-check'
import { attribute, NO_SOURCES, outsideOf, readingTotals } from '../src/index.js'
import { anyReading, anySources, reading, record } from './reading-arbitrary.js'

const OWN = ['site.test', 'cdn.site.test']

describe('what comes from outside', () => {
  it('adds up with the own hosts’ share to the whole page', () => {
    fc.assert(
      fc.property(anyReading, anySources, (page, sources) => {
        const { own, hosts } = outsideOf(page, attribute(page, sources), OWN)
        const totals = readingTotals(page)
        expect(hosts.reduce((sum, host) => sum + host.requests, own.requests)).toBe(totals.requests)
        expect(hosts.reduce((sum, host) => sum + host.transferBytes, own.transferBytes)).toBe(totals.transferBytes)
        for (const { host } of hosts) expect(OWN).not.toContain(host)
      }),
    )
  })

  it('tells who brought whom in, and how', () => {
    const page = reading([
      record('page', { url: 'https://site.test/', type: 'document' }),
      record('tag', { url: 'https://tags.test/t.js' }),
      record('hop', {
        url: 'https://count.test/1',
        initiator: {
          type: 'script',
          url: 'https://tags.test/t.js',
          stack: [{ url: 'https://tags.test/t.js', line: 0, column: 0 }],
        },
      }),
      record('end', { url: 'https://pixel.test/p.gif', redirectedFrom: 'hop', initiator: { type: 'redirect' } }),
      record('more', { url: 'https://tags.test/u.js', initiator: { type: 'script', url: 'https://tags.test/t.js' } }),
      record('css', { url: 'https://type.test/f.css', type: 'style' }),
      record('font', {
        url: 'https://files.test/f.woff2',
        type: 'font',
        initiator: { type: 'parser', url: 'https://type.test/f.css' },
      }),
      record('cdn', { url: 'https://cdn.site.test/x.js' }),
    ])
    const { own, brought, chains } = outsideOf(page, attribute(page, NO_SOURCES), OWN)
    expect(own.requests).toBe(2)
    expect(brought).toEqual([
      { from: null, to: 'tags.test', how: 'tag', requests: 1 },
      { from: 'tags.test', to: 'count.test', how: 'script', requests: 1 },
      { from: 'count.test', to: 'pixel.test', how: 'redirect', requests: 1 },
      { from: null, to: 'type.test', how: 'tag', requests: 1 },
      { from: 'type.test', to: 'files.test', how: 'style', requests: 1 },
    ])
    expect(chains).toEqual([['https://count.test/1', 'https://pixel.test/p.gif']])
  })

  it('counts what came to nothing there, and not what the page itself or a rule put an end to', () => {
    const at = (n: number, more: object) => record(`r${n}`, { url: `https://far.test/${n}`, ...more })
    const page = reading([
      at(1, { failure: 'net::ERR_CONNECTION_REFUSED' }),
      at(2, { failure: 'net::ERR_ABORTED' }),
      at(3, { failure: 'inspector' }),
      at(4, { status: 503 }),
      at(5, { status: 404 }),
    ])
    expect(outsideOf(page, attribute(page, NO_SOURCES), OWN).hosts).toMatchObject([{ host: 'far.test', failed: 2 }])
  })
})
