import fc from 'fast-check'
import {
  HtmlRewriter,
  isCarriedOut,
  leftToDo,
  planRewrite,
  type AttributionSources,
  type PageAsItCame,
  type ResolvedEffect,
} from '../src/index.js'

const SOURCES: AttributionSources = {
  ownHosts: ['site.test'],
  register: {},
  prefixes: [
    { prefix: '/parts/slider/', addon: 'slider' },
    { prefix: '/parts/share/', addon: 'share' },
  ],
  patterns: [],
  inline: [{ elementId: 'share-settings', addon: 'share' }],
  outsiders: { 'tally.test': 'tally' },
  folders: [],
  libraries: [],
}
const URL_OF_PAGE = 'http://site.test/about'
const effect = (more: Partial<ResolvedEffect>): ResolvedEffect => ({
  ...{ addon: 'slider', effect: 'leave-out', rules: ['r'], conflictsWith: [] },
  ...more,
})
const page = (html: string, asked: string[] = []): PageAsItCame => ({ html, url: URL_OF_PAGE, asked })
const left = (one: ResolvedEffect, came: PageAsItCame, others: ResolvedEffect[] = []) =>
  leftToDo(one, [one, ...others], came, SOURCES)!

describe('what is left to do of an effect', () => {
  it('are the tags that it would have changed, and what arrives that no tag tells of', () => {
    const html = '<!doctype html><script src="/parts/slider/a.js"></script><p>Reeds</p>'
    const file = 'http://site.test/parts/slider/a.js'
    expect(left(effect({}), page(html, [file]))).toEqual({ inPage: [file], arrived: [file] })
    expect(left(effect({}), page('<p>Reeds</p>', [file]))).toEqual({ inPage: [], arrived: [file] })
    expect(left(effect({}), page('<p>Reeds</p>', ['http://site.test/parts/share/b.js']))).toEqual({
      inPage: [],
      arrived: [],
    })
    // What is held, or has another turn, may arrive.
    expect(left(effect({ effect: 'hold', until: 'idle' }), page('<p>Reeds</p>', [file])).arrived).toEqual([])
  })

  it('leaves out what a narrower rule says something else of', () => {
    const html = '<script src="/parts/slider/a.js"></script><script src="/parts/slider/b.js"></script>'
    const keepsB = effect({ effect: 'keep', file: '/parts/slider/b.js', rules: ['k'] })
    const b = 'http://site.test/parts/slider/b.js'
    expect(left(effect({}), page(html, [b]), [keepsB])).toEqual({
      inPage: ['http://site.test/parts/slider/a.js'],
      arrived: [],
    })
    expect(left(effect({ file: '/parts/slider/b.js' }), page(html)).inPage).toEqual([b])
  })

  it('is told of inline code, of copies on the own host and of hosts that nothing connects to early', () => {
    const share = effect({ addon: 'share' })
    expect(left(share, page('<script id="share-settings">var s = 1</script>')).inPage).toEqual([''])
    const copied = effect({ addon: 'tally', effect: 'local' })
    const outside = 'https://tally.test/t.js'
    expect(isCarriedOut(left(copied, page(`<script src="${outside}"></script>`, [outside])))).toBe(false)
    expect(isCarriedOut(left(copied, page('<script src="/copies/t.js"></script>')))).toBe(true)
    const early = effect({ addon: 'tally', effect: 'hint', hosts: [{ origin: 'https://tally.test' }] })
    expect(left(early, page('<p>Reeds</p>')).inPage).toEqual(['https://tally.test'])
    expect(isCarriedOut(left(early, page('<link rel="preconnect" href="https://tally.test"><p>Reeds</p>')))).toBe(true)
  })

  it('can’t be told of a setting, and of hosts that nobody named', () => {
    const none = page('<p>Reeds</p>')
    expect(leftToDo(effect({ effect: 'set', setting: 'width', value: 4 }), [], none, SOURCES)).toBeNull()
    expect(leftToDo(effect({ effect: 'hint' }), [], none, SOURCES)).toBeNull()
  })

  it('is nothing where core’s own rewriter was the gate, and something again where the page came as it was', () => {
    const tags = fc.constantFrom(
      '<script src="/parts/slider/a.js"></script>',
      '<script src="/parts/share/b.js" async></script>',
      '<link rel="stylesheet" href="/parts/slider/s.css">',
      '<script id="share-settings">var s = 1</script>',
      '<script src="https://tally.test/t.js" defer></script>',
      '<img src="/parts/share/icon.png" alt="">',
      '<p>Reeds</p>\n',
    )
    const effects = fc.constantFrom<Partial<ResolvedEffect>>(
      { effect: 'leave-out' },
      { effect: 'hold', until: 'idle' },
      { effect: 'hold', until: 'input' },
      { effect: 'order', order: 'defer' },
      { effect: 'order', order: 'async' },
      { effect: 'order', order: 'end' },
    )
    fc.assert(
      fc.property(
        fc.array(tags, { maxLength: 8 }),
        fc.constantFrom('slider', 'share', 'tally'),
        effects,
        (parts, addon, said) => {
          const html = `<!doctype html><html><head></head><body>${parts.join('')}</body></html>`
          const one = effect({ addon, ...said })
          const plan = planRewrite({ effects: [one], sources: SOURCES, pageUrl: URL_OF_PAGE })
          const rewriter = new HtmlRewriter(plan)
          const through = rewriter.write(html) + rewriter.end()
          expect(left(one, page(through))).toEqual({ inPage: [], arrived: [] })
          // Without its own scripts in the head a page that it leaves alone is the page as it came.
          const bare = new HtmlRewriter({ ...plan, first: '' })
          const changes = bare.write(html) + bare.end() !== html
          if (!changes) expect(isCarriedOut(left(one, page(html)))).toBe(true)
          else if (said.effect === 'leave-out') expect(isCarriedOut(left(one, page(html)))).toBe(false)
        },
      ),
    )
  })
})
