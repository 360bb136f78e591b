import { markedElements } from '@unvelt/core'
import { parse, type DefaultTreeAdapterTypes as Tree } from 'parse5'
import { measuring, standinForTest } from './standin-client.js'

let site: Awaited<ReturnType<typeof standinForTest>>
beforeAll(async () => void (site = await standinForTest()))
afterAll(() => site?.stop())

const PAGES = ['/', '/plan-a-visit', '/articles/first-frost', '/articles/river-in-flood', '/shop']
const MARK = /<!--\/?unvelt:[a-z0-9_-]+-->/

const plain = async (path: string) => (await site.get(path, measuring(path))).text
const marked = async (path: string) =>
  (await site.get(path, measuring(path, 'rules=live, cache=bypass, marks=on'))).text

/** All elements but those that a template holds in store. */
function elementsIn(html: string): number {
  const count = (node: Tree.Node): number =>
    ('tagName' in node ? 1 : 0) +
    ('childNodes' in node ? node.childNodes.reduce((sum, child) => sum + count(child), 0) : 0)
  return count(parse(html))
}

it('stand in the page that is asked for with them and change nothing else of it', async () => {
  for (const path of PAGES) {
    const page = await plain(path)
    expect([path, page.includes('Nothing grows here')]).toEqual([path, false])
    expect(page).not.toMatch(MARK)
    const withMarks = await marked(path)
    expect(withMarks).toMatch(MARK)
    expect(elementsIn(withMarks)).toBe(elementsIn(page))
    expect((await site.get(path)).text).not.toMatch(MARK)
  }
})

it('name whose elements they are: with an add-on switched off, just those are gone', async () => {
  // Each alone: nothing else prints more or less for want of it.
  const before = await Promise.all(PAGES.map(plain))
  const writers = await Promise.all(PAGES.map(async (path) => markedElements(await marked(path))))
  for (const slug of ['pass-it-on', 'related-reads', 'bramble-menu', 'river-level', 'season-snippet']) {
    const written = writers.map((by) => by.get(slug) ?? 0)
    expect([slug, Math.max(...written) > 0]).toEqual([slug, true])
    await site.connector('PUT', `/add-ons/${slug}/active`, { active: false })
    const after = await Promise.all(PAGES.map(plain))
    expect([slug, ...before.map((html, n) => elementsIn(html) - elementsIn(after[n]!))]).toEqual([slug, ...written])
    await site.connector('PUT', `/add-ons/${slug}/active`, { active: true })
  }
})
