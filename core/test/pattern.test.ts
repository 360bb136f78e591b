import fc from 'fast-check'
import { URLPattern } from 'urlpattern-polyfill'
import { attribute, fitsPattern, NO_SOURCES, patternFor, patternProblem } from '../src/index.js'
import { reading, record } from './reading-arbitrary.js'

describe('a pattern', () => {
  it.each(['/add-ons/x/*', 'https://ads.test/*', 'https://*.ads.test/*.js', 'http://a.test:8080/x.js'])(
    '%s is sound',
    (pattern) => expect(patternProblem(pattern)).toBeNull(),
  )
  it.each(['', 'ads.test', '*', '/*', 'https://*/*:', 'ftp://a.test/', '/a/:b/(', '*://*/*'])(
    '%j is refused',
    (pattern) => expect(patternProblem(pattern)).not.toBeNull(),
  )

  it('made for an address fits it, whatever stands in it', () => {
    fc.assert(
      fc.property(fc.webUrl({ withQueryParameters: true }), fc.constantFrom('file', 'folder', 'host'), (url, of) => {
        const address = new URL(url).href
        // A path that begins with two slashes is beyond the URLPattern library.
        fc.pre(!new URL(url).pathname.startsWith('//'))
        expect(fitsPattern(patternFor(address, of as 'file'), address)).toBe(true)
        expect(fitsPattern(patternFor(address, of as 'file'), 'https://elsewhere.invalid/x')).toBe(false)
      }),
    )
  })

  it('is tried quickly and by the whole with the same outcome', () => {
    const part = fc.constantFrom('a', 'b-c', '*', ':name', '{x}?', 'y{z}?', '%20', 'ä')
    const pattern = fc.tuple(
      fc.constantFrom('', 'https://a.test', 'https://*.a.test', '*://a.test'),
      fc.uniqueArray(part, { minLength: 1, maxLength: 3 }),
    )
    const address = fc.tuple(
      fc.constantFrom('https://a.test', 'http://a.test', 'https://x.a.test', 'https://b.test'),
      fc.array(fc.constantFrom('a', 'b-c', 'x', 'y', '%20', '%C3%A4', ''), { maxLength: 4 }),
    )
    fc.assert(
      fc.property(pattern, address, ([origin, parts], [host, path]) => {
        const url = `${host}/${path.join('/')}`
        fc.pre(!new URL(url).pathname.startsWith('//'))
        const [protocol, hostname] = origin.split('://')
        const pathname = `/${parts.join('/')}`
        const whole = new URLPattern(
          origin ? { protocol: protocol!, hostname: hostname!, port: '', pathname } : { pathname },
        )
        expect(fitsPattern(origin + pathname, url)).toBe(whole.test(url))
      }),
      { numRuns: 1000 },
    )
  })

  it('decides after the register and before the initiator; of two the first stands', () => {
    const pay = (patterns: { pattern: string; addon: string }[], register = {}) => {
      const asked = record('a', {
        url: 'https://ads.test/a.js',
        initiator: { type: 'parser', url: 'https://site.test/' },
      })
      const sources = { ...NO_SOURCES, ownHosts: ['site.test'], patterns, register }
      return attribute(
        reading([record('p', { url: 'https://site.test/', type: 'document' }), asked]),
        sources,
      ).requests.get('a')
    }
    const mine = { pattern: 'https://ads.test/*', addon: 'mine' }
    expect(pay([mine])).toEqual({ payer: 'mine', evidence: 'pattern', because: mine.pattern })
    expect(pay([{ pattern: 'https://ads.test/a.js', addon: 'first' }, mine])?.payer).toBe('first')
    expect(pay([mine], { 'https://ads.test/a.js': 'told' })?.payer).toBe('told')
    expect(pay([])?.payer).toBe('outside:ads.test')
  })
})
