import { HtmlRewriter, NO_SOURCES, planRewrite, type AttributionSources, type ResolvedEffect } from '../src/index.js'

/** Single pictures and frames of a page's own wait until they are near. */
const sources: AttributionSources = {
  ...NO_SOURCES,
  ownHosts: ['site.test'],
  prefixes: [{ prefix: '/kit/slider/', addon: 'slider' }],
  folders: [{ prefix: '/media/', payer: 'content' }],
}
const held = (...files: string[]): ResolvedEffect[] =>
  files.map((file) => ({ addon: 'content', file, effect: 'hold', until: 'seen', rules: ['r'], conflictsWith: [] }))
function rewrite(html: string, effects: ResolvedEffect[]): string {
  const rewriter = new HtmlRewriter(planRewrite({ effects, sources, pageUrl: 'https://site.test/page' }))
  return rewriter.write(html) + rewriter.end()
}

it('the picture that is named waits by the browser’s own lazy loading, and keeps all it had; the others stay as they are', () => {
  const html =
    '<body><img src="/media/a.jpg" srcset="/media/a-2.jpg 2x" alt="Oak" width="3" height="2"><img src="/media/b.jpg"><img src="/kit/slider/c.jpg"><iframe src="/media/map.html"></iframe>'
  expect(rewrite(html, held('/media/a.jpg', '/media/map.html'))).toBe(
    '<body><img loading="lazy" src="/media/a.jpg" srcset="/media/a-2.jpg 2x" alt="Oak" width="3" height="2"><img src="/media/b.jpg"><img src="/kit/slider/c.jpg"><iframe loading="lazy" src="/media/map.html"></iframe>',
  )
})

it('what says itself how it loads is changed to wait, and an outsider’s picture is held by its address', () => {
  expect(rewrite('<img loading="eager" src="/media/a.jpg">', held('/media/a.jpg'))).toBe(
    '<img loading="lazy"  src="/media/a.jpg">',
  )
  const theirs = 'https://pictures.test/a.jpg'
  expect(rewrite(`<img src="${theirs}"><img src="https://pictures.test/b.jpg">`, held(theirs))).toBe(
    `<img loading="lazy" src="${theirs}"><img src="https://pictures.test/b.jpg">`,
  )
})

it('what a browser can’t be told to load late stays as it is', () => {
  const html =
    '<video poster="/media/a.jpg" src="/media/a.jpg"></video><svg><image href="/media/a.jpg"/></svg><script src="/media/a.jpg"></script><link rel="preload" as="image" href="/media/a.jpg">'
  expect(rewrite(html, held('/media/a.jpg'))).toBe(html)
})

it('nothing else is put into the page for it', () => {
  const { first, touchesInline, idle } = planRewrite({
    effects: held('/media/a.jpg'),
    sources,
    pageUrl: 'https://site.test/',
  })
  expect([first, touchesInline, idle]).toEqual(['', false, false])
})
