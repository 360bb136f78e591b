import fc from 'fast-check'
import { styleForCopy } from '../src/index.js'

const FILE = 'https://site.test/themes/oak/css/all.css?ver=3'

describe('a stylesheet that is served from another path', () => {
  it.each([
    ['a{background:url(../img/a.png)}', 'a{background:url("/themes/oak/img/a.png")}'],
    ["@import 'print.css' print;", '@import "/themes/oak/css/print.css" print;'],
    ['a{background:url("/img/a.png?x=1#b")}', 'a{background:url("/img/a.png?x=1#b")}'],
    ['a{cursor:image-set("c.png" 1x)}', 'a{cursor:image-set("/themes/oak/css/c.png" 1x)}'],
    ['a{background:url(//far.test/a.png)}', 'a{background:url("https://far.test/a.png")}'],
  ])('names from the root what it named from its own place: %s', (css, expected) => {
    expect(styleForCopy(css, FILE, 'https://site.test')).toBe(expected)
  })

  it.each(['a{filter:url(#soft)}', 'a{src:url(data:font/woff2;base64,AA==)}', 'a{src:url(https://far.test/f.woff2)}'])(
    'leaves alone what does not hang on its place: %s',
    (css) => expect(styleForCopy(css, FILE, 'https://site.test')).toBe(css),
  )

  it('names by the whole address what stands on another host than the site', () => {
    const css = styleForCopy('a{src:url(f.woff2)}', 'https://files.site.test/css/a.css', 'https://site.test')
    expect(css).toBe('a{src:url("https://files.site.test/css/f.woff2")}')
  })

  it('names no source map any more, and leaves other comments', () => {
    expect(styleForCopy('/*! licence */a{}\n/*# sourceMappingURL=all.css.map */', FILE, 'https://site.test')).toBe(
      '/*! licence */a{}\n',
    )
  })

  it('leads to where it led before, wherever it is served from', () => {
    const part = fc.stringMatching(/^[a-z0-9 .%]{1,8}$/).filter((name) => !/^\.+$|%/.test(name.trim()) && name.trim())
    fc.assert(
      fc.property(fc.array(part, { minLength: 1, maxLength: 4 }), fc.nat(3), fc.string(), (parts, up, copy) => {
        const named = '../'.repeat(up) + parts.join('/')
        const css = styleForCopy(`a{background:url("${named}")}`, FILE, 'https://site.test')
        const [, now] = /url\("([^"]*)"\)/.exec(css)!
        const at = new URL(`/local/${encodeURIComponent(copy)}.css`, 'https://site.test')
        expect(new URL(now!, at).href).toBe(new URL(named, FILE).href)
      }),
    )
  })
})
