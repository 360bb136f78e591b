import fc from 'fast-check'
import { parse, type DefaultTreeAdapterTypes as Tree } from 'parse5'
import {
  codeHash,
  findInlineCode,
  HtmlRewriter,
  LONGEST_CODE,
  NO_SOURCES,
  planRewrite,
  srcsetAddresses,
  withAddresses,
  withSrcset,
  type AttributionSources,
  type LocalCopy,
  type ResolvedEffect,
} from '../src/index.js'

const X = '/add-ons/form/x'
const sources: AttributionSources = {
  ...NO_SOURCES,
  ownHosts: ['site.test'],
  prefixes: [
    { prefix: '/add-ons/form/', addon: 'form' },
    { prefix: '/add-ons/slider/', addon: 'slider' },
  ],
  inline: [{ elementId: 'setup', addon: 'form' }],
  outsiders: { 'counter.test': 'counter' },
}
const effect = (addon: string, part: Partial<ResolvedEffect> = {}): ResolvedEffect => ({
  addon,
  effect: 'leave-out',
  rules: ['r'],
  conflictsWith: [],
  ...part,
})
function rewrite(
  html: string,
  effects: ResolvedEffect[],
  { piece = html.length || 1, first = false, own = sources, copies = {} as Record<string, LocalCopy> } = {},
): string {
  const plan = planRewrite({ effects, sources: own, pageUrl: 'https://site.test/page', localCopies: copies })
  const rewriter = new HtmlRewriter(first ? plan : { ...plan, first: '' })
  let out = ''
  for (let at = 0; at < html.length; at += piece) out += rewriter.write(html.slice(at, at + piece))
  return out + rewriter.end()
}
const until = (what: 'idle' | 'seen' | 'asked') => effect('form', { effect: 'hold', until: what })

/** What is left of each place once the add-on may not load. */
const PLACES: [html: string, left: string][] = [
  [`<script src=${X}></script>`, ''],
  [`<link rel=stylesheet href=${X}>`, ''],
  [`<link rel=icon href=${X}>`, '<link rel=icon href="data:,">'],
  [`<link rel=manifest href=${X}>`, ''],
  [`<link rel=preload as=image imagesrcset="${X} 2x">`, ''],
  [`<iframe src=${X}>old</iframe>`, ''],
  [`<img src=${X}>`, ''],
  [`<img src=/o.png srcset="${X} 2x, /p.png 3x">`, '<img src=/o.png srcset="/p.png 3x">'],
  [`<img src=/o.png srcset="${X} 2x">`, '<img src=/o.png >'],
  [`<picture><source srcset=${X}><img src=/o.png></picture>`, '<picture><img src=/o.png></picture>'],
  [`<video><source src=${X}></video>`, '<video></video>'],
  [`<video poster=${X} src=/a.mp4></video>`, '<video  src=/a.mp4></video>'],
  [`<video src=${X}></video>`, '<video ></video>'],
  [`<audio src=${X}></audio>`, '<audio ></audio>'],
  [`<video><track src=${X}></video>`, '<video></video>'],
  [`<object data=${X}><p>instead</p></object>`, '<object ><p>instead</p></object>'],
  [`<embed src=${X}>`, ''],
  [`<input type=image src=${X} alt=Send>`, '<input type=image  alt=Send>'],
  [`<table background=${X}>`, '<table >'],
  [`<svg><script href=${X}></script></svg>`, '<svg></svg>'],
  [`<svg><image href=${X} /></svg>`, '<svg><image  /></svg>'],
  [`<svg><use xlink:href=${X}#a></use></svg>`, '<svg><use ></use></svg>'],
  [
    `<style>@import "${X}"; p{background:url(${X})}</style>`,
    '<style>@import "data:,"; p{background:url("data:,")}</style>',
  ],
  [`<p style="background:url(${X}) red">`, '<p style="background:url(&quot;data:,&quot;) red">'],
]

describe('every place of an address', () => {
  it.each(PLACES)('loses it where it may not load: %s', (html, left) => {
    expect(rewrite(html, [effect('form')])).toBe(left)
    expect(rewrite(html, [effect('slider')])).toBe(html)
  })

  it.each(PLACES.filter(([html]) => !/background|<style|preload/.test(html)))('keeps it for later: %s', (html) => {
    const held = rewrite(`<body>${html}`, [until('idle')])
    expect(held).not.toMatch(/\s(?:src|srcset|href|xlink:href|data|poster)="?[^"\s>]*form/)
    expect(held).toContain(X)
    expect(held).toContain('data-unvelt-until="idle"')
  })

  it.each(PLACES.filter(([html]) => !/<svg><script/.test(html)))('loads the local copy instead: %s', (html) => {
    const out = rewrite(html, [effect('form', { effect: 'local' })], {
      copies: { [`https://site.test${X}`]: { to: '/copy/x' } },
    })
    expect(out).not.toContain(X)
    expect(out).toContain('/copy/x')
  })
})

describe('an address', () => {
  it('is read against the page’s first base, and what comes before that against the page', () => {
    const page = '<script src="a.js"></script><base href="/add-ons/form/"><script src="a.js"></script><base href="/">'
    expect(rewrite(`${page}<img src=a.png>`, [effect('form')])).toBe(
      '<script src="a.js"></script><base href="/add-ons/form/"><base href="/">',
    )
    const unheard = '<template><base href="/add-ons/form/"></template><base href="data:,"><img src=a.png>'
    expect(rewrite(unheard, [effect('form')])).toBe(unheard)
  })

  it.each([
    ['a reference', '<script src="/f/gr&ouml;&szlig;e.js"></script>'],
    ['bytes', Buffer.from('<script src="/f/größe.js"></script>').toString('latin1')],
    ['escapes in small letters', '<script src="/f/gr%c3%b6%c3%9fe.js"></script>'],
    ['two slashes', '<script src="/f//gr%C3%B6%C3%9Fe.js"></script>'],
    ['a host in large letters', '<script src="https://SITE.test:443/f/gr%C3%B6%C3%9Fe.js"></script>'],
  ])('is the same with %s', (_, html) => {
    for (const entry of ['/f/gr%C3%B6%C3%9Fe.js', '/f/größe.js'])
      expect(rewrite(html, [effect('form')], { own: { ...sources, register: { [entry]: 'form' } } })).toBe('')
  })

  it('counts once, however often its attribute stands there', () => {
    const twice = (tag: string, rule: ResolvedEffect) => rewrite(tag, [rule])
    expect(twice(`<iframe src=${X} src=${X}></iframe>`, until('idle'))).not.toMatch(/\ssrc/)
    expect(twice(`<script async src=${X} async>`, effect('form', { effect: 'order', order: 'defer' }))).not.toMatch(
      'async',
    )
    expect(twice(`<img src=/o.png src=${X}>`, effect('form'))).toBe(`<img src=/o.png src=${X}>`)
  })

  it('that goes from a set leaves the picture’s other attributes alone', () =>
    expect(rewrite(`<img crossorigin src=/o.png srcset="${X} 2x, /p.png 3x">`, [effect('form')])).toBe(
      '<img crossorigin src=/o.png srcset="/p.png 3x">',
    ))

  it('of a glued file is nobody’s to take away', () => {
    const own = { ...sources, glued: { [X]: [{ addon: 'form', from: 0, bytes: 9 }] } }
    expect(rewrite(`<script src=${X}></script>`, [effect('form')], { own })).toContain(X)
  })
})

describe('pasted code', () => {
  const known = (code: string) => ({ ...sources, inline: [{ hash: codeHash(code), addon: 'form' }] })

  it.each(['\r\n', '\r', '\n'])('is known whatever its line ends are: %j', (end) => {
    const html = ['<script>', 'var a = 1;', 'pasted();', '</script>'].join(end)
    const own = { ...sources, inline: [{ hash: findInlineCode(html)[0]!.hash, addon: 'form' }] }
    expect(rewrite(html, [effect('form')], { own })).toBe('')
  })

  it.each([
    [LONGEST_CODE - 1, 'gone'],
    [LONGEST_CODE + 1, 'there'],
  ])('of %i bytes is held back or goes by, whatever pieces it comes in', (length, is) => {
    const code = 'x'.repeat(length)
    const html = `<p>a</p><script>${code}</script>`
    for (const piece of [html.length, 65_536, 1_460])
      expect(rewrite(html, [effect('form')], { own: known(code), piece })).toBe(is === 'gone' ? '<p>a</p>' : html)
  })
})

describe('SVG', () => {
  it.each([
    [
      'a self-closed style of the add-on',
      '<svg><style id="setup"/><circle/></svg><p>rest',
      '<svg><circle/></svg><p>rest',
    ],
    ['a self-closed script', `<svg><script href="${X}"/></svg><p>rest`, '<svg></svg><p>rest'],
    [
      'a script that never ends',
      `<svg><script href="${X}"><p>rest<script src=/x.js></script>`,
      '<svg><p>rest<script src=/x.js></script>',
    ],
    ['a script with things in it', `<svg><script href="${X}">a<g/>b</script><g/></svg>`, '<svg><g/></svg>'],
  ])('loses %s and nothing else', (_, html, left) => {
    for (const piece of [html.length, 3, 1]) expect(rewrite(html, [effect('form')], { piece })).toBe(left)
  })
})

describe('within a select', () => {
  it('a name of raw text opens nothing, and an element without content is only its tag', () => {
    expect(rewrite(`<select><title><img src=${X}>`, [effect('form')])).toBe('<select><title>')
    expect(rewrite(`<select><iframe src=${X}><option>a</select><p>b`, [effect('form')])).toBe(
      '<select><option>a</select><p>b',
    )
  })
})

describe('holding', () => {
  const HEAD = `<!doctype html><html><head><meta charset=utf-8><link rel=stylesheet href=/add-ons/form/f.css><script src=${X}></script><title>T</title><meta name=robots content=noindex></head><body><p>x</p></body></html>`
  const shape = (html: string, of: 'head' | 'body') => {
    const root = parse(html).childNodes.find((node) => node.nodeName === 'html') as Tree.Element
    const part = root.childNodes.find((node) => node.nodeName === of) as Tree.Element
    return part.childNodes.map((node) => node.nodeName)
  }
  const count = (html: string, of: RegExp) => (html.match(of) ?? []).length

  it.each(['seen', 'asked'] as const)('until %s leaves the head whole', (what) => {
    const out = rewrite(HEAD, [until(what)])
    expect(shape(out, 'head')).toEqual(shape(HEAD, 'head'))
    expect(count(out, /data-unvelt-(?:place|ask)=/g)).toBe(1)
  })

  it('asks once for all that stands together or has no place, and again where something else will be seen', () => {
    const held = (html: string) => count(rewrite(html, [until('asked')]), /<button/g)
    const [script, frame] = [`<script src=${X}></script>`, `<iframe src=${X}></iframe>`]
    expect(held(`<body>${script}${script}<p>a</p>${script}`)).toBe(1)
    expect(held(`<body>${script}\n${frame}`)).toBe(1)
    expect(held(`<body>${frame}<p>a</p>${frame}`)).toBe(2)
    expect(held(`<head>${script}</head><body>${frame}`)).toBe(1)
    expect(held(`<body><video><source src=${X}></video><svg><image href=${X} /></svg>`)).toBe(1)
    expect(held(`<body>${script}${rewrite(frame, [])}`)).toBe(1)
  })

  it('keeps a style that is applied once it is preloaded', () => {
    const out = rewrite(`<link rel=preload as=style href=${X} onload="this.rel='stylesheet'">`, [until('idle')])
    expect(out).toContain(`data-unvelt-href=${X}`)
    expect(rewrite(`<link rel=preload as=style href=${X}>`, [until('idle')])).toBe('')
  })

  it('leaves alone what only waits in a template', () => {
    const html = `<template><script src=${X}></script></template>`
    expect(rewrite(html, [until('asked')])).toBe(html)
  })

  const part = fc.constantFrom(
    '<title>t</title>', '<meta name=a>', `<script src=${X}></script>`, `<link rel=stylesheet href=${X}>`, '</head>',
    '<template><p>a</p></template>', '<style id=setup>a{}</style>', '<!-- c -->', ' ', '<noscript><p></noscript>',
    '<head>', '<html>', '<base href=/>', '</p>', '<script>a</script>',
  ) // prettier-ignore
  it('never ends a head early', () => {
    fc.assert(
      fc.property(
        fc.array(part, { maxLength: 8 }),
        fc.constantFrom('seen', 'asked'),
        fc.nat(40),
        (parts, what, piece) => {
          const html = `${parts.join('')}<p>x</p>`
          const out = rewrite(html, [until(what as 'seen')], { first: true, piece: piece + 1 })
          const plain = shape(rewrite(html, [effect('form', { effect: 'keep' })]), 'head')
          expect(shape(out, 'head').filter((name) => name !== 'script')).toEqual(
            plain.filter((name) => name !== 'script'),
          )
          // The holder stands before all of it.
          expect(shape(out, 'head')[0] === '#comment' ? 'script' : shape(out, 'head')[0]).toBe('script')
        },
      ),
      { numRuns: 400 },
    )
  })
})

describe('whatever is cut', () => {
  const pieces = [
    ...PLACES.map(([html]) => html), '<base href=/add-ons/>', '<select>', '</select>', '<template>', '</template>', '<body>', '</body>',
    '<svg>', '</svg>', '<title>', '<script id=setup>', '</script>', '<!--', '-->', 'wörds', ' ', '<p style="a:url(x', '">', '\r\n', '\u0000',
    '\u00ef\u00bb\u00bf', '<![CDATA[', ']]>', '</iframe>', '<script><!--<script>', '<div data-a="',
  ] // prettier-ignore
  const anyEffects = fc.subarray([
    until('asked'),
    effect('slider'),
    effect('counter', { effect: 'order', order: 'end' }),
  ])
  it('the result is the same', () => {
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom(...pieces), { maxLength: 10 }).map((parts) => parts.join('')),
        fc.oneof(anyEffects, fc.constant([effect('form')])),
        fc.integer({ min: 1, max: 30 }),
        (html, effects, piece) =>
          expect(rewrite(html, effects, { piece, first: true })).toBe(rewrite(html, effects, { first: true })),
      ),
      { numRuns: 1_500 },
    )
  })

  it('a tag of more than a megabyte goes by as it is, and what stands in it is no tag', () => {
    const tag = `<div data-x="${'x'.repeat(1.2e6)}${`<script src=${X}></script>`.repeat(2)}">keep</div><script src=${X}></script>`
    const left = tag.slice(0, tag.lastIndexOf('<script'))
    for (const piece of [tag.length, 65_536, 1_460]) expect(rewrite(tag, [effect('form')], { piece })).toBe(left)
  })
})

describe('addresses in styles', () => {
  const all = (css: string) => {
    const found: string[] = []
    withAddresses(css, (address) => (found.push(address), null))
    return found
  }
  it.each([
    ['a{b:url( x )}', ['x']],
    ['a{b:url("x\\20y")}', ['x y']],
    ['@import url(x) screen;@import "y";a{content:"z"}', ['x', 'y']],
    ['/* url(x) */a{b:"url(y)"}', []],
    ['a{b:image-set("x" 1x, url(y) 2x type("image/png"))}', ['x', 'y']],
    ['a{b:url(x', ['x']],
  ])('are found in %s', (css, found) => expect(all(css)).toEqual(found))

  it('of a srcset are found and taken out', () => {
    expect(srcsetAddresses('a 1x, b,c 2x (,) , d')).toEqual(['a', 'b,c', 'd'])
    expect(srcsetAddresses(' , a, b 2w')).toEqual(['a', 'b'])
    expect(withSrcset('a 1x, b 2x', (a) => (a === 'b' ? undefined : null))).toBe('a 1x')
    expect(withSrcset('a 1x, b 2x', () => undefined)).toBeNull()
    expect(withSrcset('a 1x, b 2x', (a) => (a === 'a' ? 'c' : null))).toBe('c 1x, b 2x')
  })
})
