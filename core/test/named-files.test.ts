import { NO_SOURCES, planRewrite, withNamedFiles, type AttributionSources, type ResolvedEffect } from '../src/index.js'

const sources: AttributionSources = {
  ...NO_SOURCES,
  ownHosts: ['site.test'],
  prefixes: [
    { prefix: '/kit/tags/', addon: 'tags' },
    { prefix: '/kit/menu/', addon: 'menu' },
  ],
  outsiders: { 'known.test': 'counter' },
  glued: { '/made/all.js': [] } as never,
}
const gone = (file: string): ResolvedEffect => ({ addon: 'tags', file, effect: 'leave-out' }) as ResolvedEffect
const plan = (...files: string[]) =>
  planRewrite({ effects: files.map(gone), sources, pageUrl: 'https://site.test/page' })

it('what an add-on’s code brings in goes by its address, and nothing else of that host does', () => {
  const { forFile, first } = plan('https://trail.test/trail.js')
  expect(forFile('https://trail.test/trail.js')).toEqual({ do: 'drop' })
  expect(forFile('https://trail.test/other.js')).toBeNull()
  expect(forFile('/kit/tags/tags.js')).toBeNull()
  // Scripts insert it, so the stopper has to know it too.
  expect(first).toContain('https://trail.test/trail.js')
})

it('a file of the own host that lies in nobody’s folder goes as well', () => {
  expect(plan('/loose.js').forFile('/loose.js?v=2')).toEqual({ do: 'drop' })
})

it.each(['/kit/menu/menu.js', 'https://known.test/count.js', '/made/all.js'])(
  'what is known as somebody else’s does not go by a rule about another one: %s',
  (file) => {
    expect(plan(file).forFile(file)).toBeNull()
    expect(withNamedFiles(sources, [gone(file)])).toBe(sources)
  },
)

it('the sources of the same names are the same, so that what is worked out of them is kept', () => {
  const named = () => withNamedFiles(sources, [gone('/loose.js'), gone('https://trail.test/trail.js')])
  expect(named()).not.toBe(sources)
  expect(named()).toBe(named())
})

it('what is no address at all names nothing', () => {
  expect(withNamedFiles(sources, [gone('__proto__'), gone('http://[')])).toBe(sources)
})
