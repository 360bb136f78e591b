import fc from 'fast-check'
import {
  codeHash,
  HtmlRewriter,
  NO_SOURCES,
  planRewrite,
  type AttributionSources,
  type LocalCopy,
  type ResolvedEffect,
} from '../src/index.js'

const sources: AttributionSources = {
  ...NO_SOURCES,
  ownHosts: ['site.test'],
  register: { '/glued/form-part.js': 'form' },
  prefixes: [
    { prefix: '/add-ons/form/', addon: 'form' },
    { prefix: '/add-ons/slider/', addon: 'slider' },
  ],
  inline: [
    { elementId: 'form-setup', addon: 'form' },
    { hash: codeHash('größe()'), addon: 'pasted' },
  ],
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
  options: {
    cuts?: number[]
    first?: boolean
    localCopies?: Record<string, LocalCopy>
    madeCopies?: Record<string, LocalCopy>
    origins?: Record<string, string[]>
  } = {},
): string {
  const plan = planRewrite({ effects, sources, pageUrl: 'https://site.test/page', ...options })
  const rewriter = new HtmlRewriter(options.first ? plan : { ...plan, first: '' })
  const at = [...new Set((options.cuts ?? []).map((cut) => cut % (html.length + 1)))].sort((a, b) => a - b)
  const chunks = [...at, html.length].map((end, i) => html.slice(i === 0 ? 0 : at[i - 1], end))
  return chunks.map((chunk) => rewriter.write(chunk)).join('') + rewriter.end()
}

const PAGE = `<!doctype html><html><head><title>A <script> in a title</title>
<link rel=stylesheet href=/add-ons/form/form.css>
<link rel="preload" as="script" href="/add-ons/form/form.js?v=2&amp;x=1"><link rel=preconnect href="https://cdn.counter.test">
<script src="/add-ons/slider/slider.js" integrity="sha256-x"></script>
<script id="form-setup">var form = "</scr" + "ipt>"</script></head>
<body><p>Text</p><script async src='https://cdn.counter.test/c.js'></script>
<script src="/add-ons/form/form.js?v=2&amp;x=1">ignored</script><script src="/glued/form-part.js"></script>
<iframe src="https://cdn.counter.test/f"><p>no frames</p></iframe><!-- <script src="/add-ons/form/old.js"></script> -->
</body></html>`

describe('leaving out', () => {
  it('takes the tags, the inline companions and the hints of the add-on, and no more', () => {
    const expected = PAGE.replace('<link rel=stylesheet href=/add-ons/form/form.css>', '')
      .replace('<link rel="preload" as="script" href="/add-ons/form/form.js?v=2&amp;x=1">', '')
      .replace('<script id="form-setup">var form = "</scr" + "ipt>"</script>', '')
      .replace(
        '<script src="/add-ons/form/form.js?v=2&amp;x=1">ignored</script><script src="/glued/form-part.js"></script>',
        '',
      )
    expect(rewrite(PAGE, [effect('form')])).toBe(expected)
  })

  it('takes an outsider’s scripts, frames and early connections', () => {
    const out = rewrite(PAGE, [effect('counter')])
    expect(out).not.toContain('counter.test')
    expect(out).not.toContain('no frames')
    expect(out).toContain('/add-ons/form/form.css')
  })

  it('of one file leaves the add-on’s others', () => {
    const out = rewrite(PAGE, [effect('form', { file: '/add-ons/form/form.css' })])
    expect(out).not.toContain('form.css')
    expect(out).toContain('form.js')
  })

  it('a kept file outranks its add-on', () => {
    const out = rewrite(PAGE, [effect('form'), effect('form', { file: '/add-ons/form/form.css', effect: 'keep' })])
    expect(out).toContain('form.css')
    expect(out).not.toContain('form.js')
  })

  it('knows pasted code by what it says, also without id and with letters beyond ASCII', () => {
    const page = Buffer.from('<head><script> größe() </script><script>other()</script></head>', 'utf8').toString(
      'latin1',
    )
    const out = Buffer.from(rewrite(page, [effect('pasted')]), 'latin1').toString('utf8')
    expect(out).toBe('<head><script>other()</script></head>')
  })
})

describe('the other effects', () => {
  it('hold back until asked for, with a placeholder', () => {
    const out = rewrite('<iframe src="https://x.counter.test/v" width=4></iframe>', [
      effect('counter', { effect: 'hold', until: 'asked' }),
    ])
    expect(out).toBe(
      '<button type="button" class="unvelt-ask" data-unvelt-ask="counter">Load counter</button><iframe data-unvelt-until="asked" data-unvelt-of="counter" hidden data-unvelt-src="https://x.counter.test/v" width=4></iframe>',
    )
  })

  it('hold back until asked for, with own words and a picture in its place, which can be nothing but that', () => {
    const frame = '<iframe src="https://x.counter.test/v"></iframe>'
    const place = (ask: object) =>
      /^<button[^>]*>(.*)<\/button>/.exec(
        rewrite(frame, [effect('counter', { effect: 'hold', until: 'asked', ask })]),
      )![1]!
    expect(place({ words: 'Show the counter' })).toBe('Show the counter')
    expect(place({ picture: '/still.png' })).toBe(
      '<img src="/still.png" alt="" loading="lazy" style="display:block;max-width:100%">Load counter',
    )
    expect(place({ words: '<b onclick="x">Ä & "o"</b>' })).toBe(
      Buffer.from('&lt;b onclick=&quot;x&quot;>Ä &amp; &quot;o&quot;&lt;/b>').toString('latin1'),
    )
    expect(place({ picture: 'https://x.test/a" onerror="x' })).toContain('src="https://x.test/a&quot; onerror=&quot;x"')
  })

  it('hold scripts and styles so that nothing loads or runs before', () => {
    const out = rewrite(
      '<link rel=stylesheet media=print href=/add-ons/form/a.css><script type=module src=/add-ons/form/a.js></script><script id=form-setup>go()</script>',
      [effect('form', { effect: 'hold', until: 'idle' })],
    )
    expect(out).not.toMatch(/[ "](src|href)=/)
    expect(out.match(/type="text\/unvelt-held"/g)).toHaveLength(2)
    expect(out).toContain('data-unvelt-type=module')
    expect(out).toContain('media="not all"')
    expect(out).toContain('data-unvelt-media=print')
  })

  it('put scripts in another order', () => {
    const page =
      '<head><script async src=/add-ons/form/a.js></script><link rel=stylesheet href=/add-ons/form/a.css></head><body>x</body>'
    expect(rewrite(page, [effect('form', { effect: 'order', order: 'defer' })])).toContain(
      '<script defer  src=/add-ons/form/a.js>',
    )
    expect(rewrite(page, [effect('form', { effect: 'order', order: 'end' })])).toBe(
      '<head></head><body>x<script async src=/add-ons/form/a.js></script><link rel=stylesheet href=/add-ons/form/a.css></body>',
    )
  })

  it('serve a local copy, without the outsider’s integrity', () => {
    const out = rewrite(
      '<script integrity=x src="//c.counter.test/c.js"></script>',
      [effect('counter', { effect: 'local' })],
      {
        localCopies: { 'https://c.counter.test/c.js': { to: '/unvelt-local/c.js' } },
      },
    )
    expect(out).toBe('<script  src="/unvelt-local/c.js"></script>')
  })

  it('serve a copy that was made of an own file, as long as there is one to serve', () => {
    const file = '/add-ons/form/form.css'
    const cleaned = effect('form', { effect: 'local', file, copy: { content: 'sha384-c', from: 'sha384-f' } })
    const page = `<link rel=preload as=style href=${file}><link rel=stylesheet href="${file}?ver=2"><script src=/add-ons/form/form.js></script>`
    const to = { to: '/local/c.css', integrity: 'sha384-c' }
    expect(rewrite(page, [cleaned], { madeCopies: { 'sha384-c': to } })).toBe(
      '<link integrity="sha384-c" rel=preload as=style href="/local/c.css"><link integrity="sha384-c" rel=stylesheet href="/local/c.css"><script src=/add-ons/form/form.js></script>',
    )
    expect(rewrite(page, [cleaned], { madeCopies: { 'sha384-other': to } })).toBe(page)
    // A copy of what stands at that address outside is another thing.
    expect(rewrite(page, [cleaned], { localCopies: { [`https://site.test${file}?ver=2`]: to } })).toBe(page)
  })

  it('serve a copy that is checked, of what a browser checks', () => {
    const copy = { to: '/local/c', integrity: 'sha384-abc' }
    const out = rewrite(
      '<link rel=stylesheet crossorigin href="//c.counter.test/c.css"><img src="//c.counter.test/c.png">',
      [effect('counter', { effect: 'local' })],
      { localCopies: { 'https://c.counter.test/c.css': copy, 'https://c.counter.test/c.png': copy } },
    )
    expect(out).toBe('<link integrity="sha384-abc" rel=stylesheet  href="/local/c"><img src="/local/c">')
  })

  it('ask for a picture first by its own tag, or by a link where no tag names it', () => {
    const file = '/add-ons/slider/wide.jpg'
    const first = effect('slider', { effect: 'hint', file })
    const page = `<head></head><img loading=lazy src="${file}?v=2" alt=x><img src=/add-ons/slider/other.jpg loading=lazy><script src=/add-ons/slider/slider.js></script>`
    const told = `<head></head><img fetchpriority="high"  src="${file}?v=2" alt=x><img src=/add-ons/slider/other.jpg loading=lazy><script src=/add-ons/slider/slider.js></script>`
    expect(rewrite(page, [first])).toBe(told)
    expect(rewrite(told, [first]).replace(/ +/g, ' ')).toBe(told.replace(/ +/g, ' '))
    expect(rewrite(page, [{ ...first, ahead: true }], { first: true })).toBe(
      told.replace('<head>', `<head><link rel="preload" as="image" href="${file}" fetchpriority="high">`),
    )
    expect(rewrite('<head></head>', [{ ...first, file: `${file}?a=1&b=2`, ahead: true }], { first: true })).toBe(
      `<head><link rel="preload" as="image" href="${file}?a=1&amp;b=2" fetchpriority="high"></head>`,
    )
    expect(rewrite(`<img srcset="/small.jpg 1x, ${file} 2x" src=/small.jpg fetchpriority=low>`, [first])).toBe(
      `<img fetchpriority="high" srcset="/small.jpg 1x, ${file} 2x" src=/small.jpg >`,
    )
  })

  it('ask for a picture of several files first by the tag that they all stand for, and for no other', () => {
    const file = '/add-ons/slider/wide.avif'
    const first = effect('slider', { effect: 'hint', file })
    const img = '<img loading=lazy src=/add-ons/slider/plain.jpg>'
    const sources = (name: string) => `<picture><source srcset="${name} 1x" type=image/avif><source srcset=/b.webp>`
    const asked = '<img fetchpriority="high"  src=/add-ons/slider/plain.jpg>'
    const page = `${img}${sources(file)}${img}</picture>${img}${sources('/add-ons/slider/other.avif')}${img}</picture>`
    const told = `${img}${sources(file)}${asked}</picture>${img}${sources('/add-ons/slider/other.avif')}${img}</picture>`
    expect(rewrite(page + page, [first])).toBe(told + told)
    // A `picture` without a tag of its own says nothing of those behind it.
    expect(rewrite(`${sources(file)}</picture>${img}<picture>${img}</picture>`, [first])).toBe(
      `${sources(file)}</picture>${img}<picture>${img}</picture>`,
    )
    expect(rewrite(`<video><source src=${file}></video>${img}`, [first])).toBe(
      `<video><source src=${file}></video>${img}`,
    )
  })

  it('connect early as the rule says, each host once', () => {
    const hosts = [
      { origin: 'https://a.test' },
      { origin: 'https://f.test', cors: true },
      { origin: 'https://n.test', nameOnly: true },
      { origin: 'https://a.test' },
    ]
    const out = rewrite('<head>', [effect('counter', { effect: 'hint', hosts })], {
      first: true,
      origins: { counter: ['https://never.test'] },
    })
    expect(out).toBe(
      '<head><link rel="preconnect" href="https://a.test"><link rel="preconnect" href="https://f.test" crossorigin><link rel="dns-prefetch" href="https://n.test">',
    )
  })

  it('let fonts of the system stand in, and no name ends the style', () => {
    const font = { family: 'Größe </style>', local: ['Arial Bold'], weight: '700', size: 104.5, ascent: 90, descent: 25, lineGap: 0 } // prettier-ignore
    const out = rewrite('<head>', [effect('form', { effect: 'system-font', fonts: [font] })], { first: true })
    expect(out).toContain(
      `<style>@font-face{font-family:"Gr\\f6 \\df e /style";font-weight:700;font-style:normal;src:local("Arial Bold");size-adjust:104.5%;ascent-override:90%;descent-override:25%;line-gap-override:0%}</style>`,
    )
  })

  it('connect early', () => {
    const out = rewrite('<html><head><title>x</title>', [effect('counter', { effect: 'hint' })], {
      first: true,
      origins: { counter: ['https://c.counter.test'] },
    })
    expect(out).toBe('<html><head><link rel="preconnect" href="https://c.counter.test"><title>x</title>')
  })

  it('put the stopper first in the head, and its list can’t end the script', () => {
    const out = rewrite(
      '<html><head><script src=/a.js></script></head>',
      [effect('form', { file: '/add-ons/form/</script><b>', effect: 'leave-out' })],
      { first: true },
    )
    expect(out.indexOf('<script>(function')).toBe('<html><head>'.length)
    expect(out.match(/<\/script>/g)).toHaveLength(2)
  })
})

const part = fc.constantFrom(
  PAGE,
  '<script src=/add-ons/form/a.js></script>',
  '<script id=form-setup>',
  '</script>',
  '<!-- ',
  ' -->',
  '<p title="',
  '">',
  '<svg>',
  '</svg>',
  '<style>',
  '</style>',
  'ä',
  '<iframe src=//counter.test/>',
  '<head>',
  '</body>',
  '<link rel=stylesheet href=/add-ons/slider/s.css>',
  '<scr',
  '\u0000',
  '<textarea>',
  '<script>größe()</script>',
)
const anyHtml = fc.array(part, { maxLength: 8 }).map((parts) => parts.join(''))
const anyEffects = fc.subarray([
  effect('form'),
  effect('slider', { effect: 'hold', until: 'seen' }),
  effect('counter', { effect: 'order', order: 'end' }),
  effect('pasted'),
])

describe('the rewriter', () => {
  it('gives back byte for byte what no rule touches', () => {
    fc.assert(
      fc.property(anyHtml, fc.array(fc.nat(3000), { maxLength: 4 }), (html, cuts) => {
        expect(rewrite(html, [effect('nobody')], { cuts })).toBe(html)
        expect(rewrite(html, [effect('form', { effect: 'keep' })], { cuts })).toBe(html)
      }),
    )
  })

  it('says the same wherever the stream is cut', () => {
    fc.assert(
      fc.property(anyHtml, anyEffects, fc.array(fc.nat(3000), { maxLength: 6 }), (html, effects, cuts) => {
        expect(rewrite(html, effects, { cuts, first: true })).toBe(rewrite(html, effects, { first: true }))
      }),
      { numRuns: 500 },
    )
  })

  it('leaves nothing to do for a second pass', () => {
    fc.assert(
      fc.property(anyHtml, fc.subarray([effect('form'), effect('counter'), effect('pasted')]), (html, effects) => {
        const once = rewrite(html, effects)
        expect(rewrite(once, effects)).toBe(once)
      }),
    )
  })

  it('gives the first byte out before the last comes in, and holds back little', () => {
    const plan = planRewrite({ effects: [effect('form')], sources, pageUrl: 'https://site.test/' })
    const rewriter = new HtmlRewriter({ ...plan, first: '' })
    const chunk = '<p class="x">some text</p>'.repeat(400)
    let given = 0
    for (let n = 1; n <= 50; n++) {
      given += rewriter.write(chunk).length
      expect(n * chunk.length - given).toBeLessThan(100)
    }
    expect(given + rewriter.end().length).toBe(50 * chunk.length)
  })

  it('lets a tag without end go by instead of keeping all of it', () => {
    const plan = planRewrite({ effects: [effect('form')], sources, pageUrl: 'https://site.test/' })
    const rewriter = new HtmlRewriter({ ...plan, first: '' })
    const out = rewriter.write(`<script src="${'x'.repeat(2 << 20)}`)
    expect(out.length).toBeGreaterThan(1 << 20)
  })
})
