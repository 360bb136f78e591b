import { NO_SOURCES } from '../src/attribution/sources.js'
import { withFoundPayers } from '../src/attribution/found-payers.js'
import { codeHash } from '../src/reading/inline-code.js'
import { HtmlRewriter } from '../src/rewrite/html-rewriter.js'
import { planRewrite } from '../src/rewrite/rewrite-plan.js'

const CODE = 'count(1)'
const PAGE = `<head></head><body><script src="/kit/menu/menu.js"></script><script src="/kit/tags.js"></script><img src="/kit/menu/bars.png"><script src="https://cdn.count.test/c.js"></script><script>${CODE}</script></body>`
const sources = { ...NO_SOURCES, ownHosts: ['orchard.test'], byOwnFolders: true }

function without(addon: string): string {
  const effects = [{ addon, effect: 'leave-out' as const, rules: ['a'], conflictsWith: [] }]
  const plan = planRewrite({ effects, sources: withFoundPayers(sources, [addon]), pageUrl: 'https://orchard.test/' })
  const rewriter = new HtmlRewriter(plan)
  const out = rewriter.write(PAGE) + rewriter.end()
  return out.slice(out.indexOf('<body>'))
}

it.each([
  ['own:/kit/menu/', ['/kit/menu/menu.js', '/kit/menu/bars.png']],
  ['own:/kit/tags.js', ['/kit/tags.js']],
  ['outside:count.test', ['https://cdn.count.test/c.js']],
  [`inline:${codeHash(CODE)}`, [CODE]],
])('what was found as %s goes, and nothing else', (payer, gone) => {
  const out = without(payer)
  for (const piece of ['/kit/menu/menu.js', '/kit/menu/bars.png', '/kit/tags.js', 'https://cdn.count.test/c.js', CODE])
    expect(out.includes(piece)).toBe(!gone.includes(piece))
})

it('what an add-on is known to bring in stays the add-on’s, and known payers change nothing', () => {
  const known = { ...sources, outsiders: { 'count.test': 'counter' } }
  expect(withFoundPayers(known, ['outside:count.test']).outsiders).toEqual({ 'count.test': 'counter' })
  expect(withFoundPayers(known, ['counter', 'constructor'])).toBe(known)
})
