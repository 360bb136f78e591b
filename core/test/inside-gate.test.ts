import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { HtmlRewriter, idlePlan, insideGate, throughGate } from '../src/index.js'

const SITE = 'http://trees.test'
const GATE = 'http://p1.localhost:4620'
const through = (html: string, cuts: readonly number[] = []) => {
  const rewriter = new HtmlRewriter(throughGate(idlePlan(`${SITE}/walks/`), SITE, GATE))
  const places = [...new Set(cuts.map((cut) => cut % (html.length + 1)))].sort((a, b) => a - b)
  const pieces = [0, ...places].map((from, n) => html.slice(from, places[n] ?? html.length))
  return pieces.map((piece) => rewriter.write(piece)).join('') + rewriter.end()
}

describe('an address of the site, through a gate', () => {
  test.each([
    ['http://trees.test/a?b#c', `${GATE}/a?b#c`],
    ['  HTTP://TREES.test', `${GATE}/`],
    ['http://trees.test?x', `${GATE}/?x`],
    ['https://trees.test/a', `${GATE}/a`],
    ['//trees.test/a', `${GATE}/a`],
    ['\\\\trees.test\\a', `${GATE}\\a`],
    ['http://trees.test:80/a', `${GATE}/a`],
  ])('%s leads to %s', (address, to) => expect(insideGate(address, SITE, GATE)).toBe(to))

  test.each([
    '/a', 'a', '', '#x', 'mailto:a@trees.test', 'http://trees.test:8080/', 'http://trees.test@evil.test/', 'http://trees.test.evil.test/',
    'ftp://trees.test/', 'http://', 'javascript:location="http://trees.test/"',
  ])('%s stays', (address) => expect(insideGate(address, SITE, GATE)).toBeNull()) // prettier-ignore
})

describe('a page through a gate', () => {
  test('a base on another host keeps what is relative there', () => {
    const page = '<base href="https://cdn.test/x/"><a href="walks">W</a><a href="http://trees.test/">H</a>'
    expect(through(page)).toBe(`<base href="https://cdn.test/x/"><a href="walks">W</a><a href="${GATE}/">H</a>`)
  })

  test('bytes beyond ASCII stay as they are in links, and are encoded in files', () => {
    const bytes = Buffer.from('<a href="http://trees.test/caf\u00e9">x</a><img src="http://trees.test/caf\u00e9.jpg">')
    expect(through(bytes.toString('latin1'))).toBe(
      `<a href="${GATE}/caf\u00c3\u00a9">x</a><img src="${GATE}/caf%C3%A9.jpg">`,
    )
  })

  test('links in SVG, in a template and in a comment', () => {
    expect(through('<svg><a xlink:href="http://trees.test/a"/></svg>')).toContain(`xlink:href="${GATE}/a"`)
    expect(through('<template><a href="http://trees.test/a"></a></template>')).toContain(`href="${GATE}/a"`)
    const comment = '<!-- <a href="http://trees.test/a"> -->'
    expect(through(comment)).toBe(comment)
  })

  const piece = fc.constantFrom(
    '<a href="http://trees.test/x">', "<form action='//trees.test/y'>", '<a href=/z>', '<base href="http://trees.test/b/">',
    '<svg><a xlink:href="http://trees.test/s"/></svg>', '<input formaction="http://trees.test/f" type=image src="http://trees.test/i.png">',
    '<script>a("<a href=\'http://trees.test/\'>")</script>', '<style>p{background:url(http://trees.test/p.png)}</style>', '<p>words',
    '<meta http-equiv=refresh content="0;url=http://trees.test/m">', '<a href="https://other.test/">', '<!--', '-->', '</a>', '<template>', '</template>',
  ) // prettier-ignore

  test('is the same whatever pieces it comes in, and is through for good', () => {
    fc.assert(
      fc.property(
        fc.array(piece, { maxLength: 12 }).map((all) => all.join('')),
        fc.array(fc.nat(500), { maxLength: 6 }),
        (html, cuts) => {
          const once = through(html)
          expect(through(html, cuts)).toBe(once)
          expect(through(once)).toBe(once)
        },
      ),
      { numRuns: 500 },
    )
  })
})
