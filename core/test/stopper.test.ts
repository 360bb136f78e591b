import vm from 'node:vm'
import fc from 'fast-check'
import {
  NO_SOURCES,
  planRewrite,
  stopList,
  stopper,
  type AttributionSources,
  type Effect,
  type ResolvedEffect,
} from '../src/index.js'

const PAGE = 'https://site.test/page'
const HOSTS = [
  'https://site.test',
  'https://cdn.site.test',
  'https://a.far.test',
  'https://far.test',
  'https://else.test',
]
const PATHS = [
  '/add-ons/form/a.js', '/add-ons/form/deep/b.js', '/add-ons//form/a.js', '/add-ons/%66orm/a.js', '/add-ons/b.js', '/add-ons/form/a.js?v=1',
  '/up/chat/x.js', '/up/x.js', '/x.js', '/constructor', '/add-ons/form/a.js#here',
] // prettier-ignore
const ADD_ONS = ['form', 'deep', 'common', 'chat', 'far']

const anySources: fc.Arbitrary<AttributionSources> = fc.record({
  ownHosts: fc.constantFrom(['site.test'], ['site.test', 'CDN.site.test:443']),
  register: fc.dictionary(
    fc.constantFrom(...PATHS.slice(0, 9), ...HOSTS.map((host) => `${host}/x.js`)),
    fc.constantFrom(...ADD_ONS),
    {
      maxKeys: 3,
    },
  ),
  prefixes: fc.array(
    fc.record({
      prefix: fc.constantFrom(
        '/add-ons/',
        '/add-ons/form/',
        '/add-ons/form/deep/',
        '/up/',
        'https://far.test/',
        'https://site.test/up/',
      ),
      addon: fc.constantFrom(...ADD_ONS),
    }),
    { maxLength: 4 },
  ),
  patterns: fc.array(
    fc.record({
      pattern: fc.constantFrom('/up/*', '/up/chat/*.js', 'https://*.far.test/*', '/x.js', '/add-ons/:name/a.js'),
      addon: fc.constantFrom(...ADD_ONS),
    }),
    { maxLength: 3 },
  ),
  outsiders: fc.constantFrom<Record<string, string>>(
    {},
    { 'far.test': 'far' },
    { 'far.test': 'far', 'else.test': 'form' },
  ),
  inline: fc.constant([]),
  folders: fc.constant([]),
})
const anyEffect: fc.Arbitrary<ResolvedEffect> = fc
  .record({
    addon: fc.constantFrom(...ADD_ONS),
    effect: fc.constantFrom<Effect>('skip', 'leave-out', 'hold', 'keep'),
    file: fc.option(fc.constantFrom(...PATHS, ...HOSTS.map((host) => `${host}/x.js`)), { nil: undefined, freq: 2 }),
  })
  .map(({ file, ...rest }) => ({ ...rest, ...(file !== undefined && { file }), rules: [], conflictsWith: [] }))
/** Of one target one rule has decided. */
const anyEffects = fc.uniqueArray(anyEffect, { maxLength: 5, selector: ({ addon, file }) => `${addon} ${file}` })

/** The stopper, run beside a few made-up classes of a browser: what becomes of a script's address. */
function inserts(first: string): (address: string) => boolean {
  const context = vm.createContext({ URL, URLPattern: (globalThis as { URLPattern?: unknown }).URLPattern })
  vm.runInContext(
    `class Node{constructor(){this.nodeType=1}appendChild(x){return x}}
    class Element extends Node{constructor(){super();this.a={}} getAttribute(k){return this.a[k]??null} setAttribute(k,v){this.a[k]=v} removeAttribute(k){delete this.a[k]}}
    globalThis.HTMLScriptElement=class extends Element{get localName(){return 'script'} get src(){return this.a.src} set src(v){this.a.src=v}};
    globalThis.location={host:'site.test'};globalThis.document={baseURI:${JSON.stringify(PAGE)}};${first}`,
    context,
  )
  return (address) =>
    vm.runInContext(
      `(()=>{const e=new HTMLScriptElement();e.src=${JSON.stringify(address)};new Element().appendChild(e);return e.a.src!==undefined})()`,
      context,
    ) as boolean
}

it('the stopper says the same of every address as the rewriter', () => {
  fc.assert(
    fc.property(anySources, anyEffects, (sources, effects) => {
      // Named groups need the browser's own pattern syntax.
      fc.pre(!sources.patterns.some(({ pattern }) => pattern.includes(':name')) || 'URLPattern' in globalThis)
      const plan = planRewrite({ effects, sources, pageUrl: PAGE })
      const list = stopList(effects, sources)
      const loads = list ? inserts(stopper(list)) : () => true
      for (const host of ['', ...HOSTS])
        for (const path of PATHS) {
          const address = host + path
          expect([address, loads(address)]).toEqual([address, plan.forFile(address)?.do !== 'drop'])
        }
    }),
    { numRuns: 150 },
  )
})

it.each([
  ['skip', 'hold', false],
  ['hold', 'skip', true],
] as const)('of a file’s names the whole address comes first: %s there and %s by its path', (whole, path, loads) => {
  const of = (file: string, effect: Effect) => ({ addon: 'form', file, effect, rules: [], conflictsWith: [] })
  const effects = [of('https://site.test/x.js', whole), of('/x.js', path)]
  const sources = { ...NO_SOURCES, ownHosts: ['site.test'], patterns: [{ pattern: '/x.js', addon: 'form' }] }
  expect(inserts(stopper(stopList(effects, sources)!))('/x.js')).toBe(loads)
  expect(planRewrite({ effects, sources, pageUrl: PAGE }).forFile('/x.js')?.do !== 'drop').toBe(loads)
})

it('asks the browser for what is more than text and stars', () => {
  const sources = { ...NO_SOURCES, ownHosts: ['site.test'], patterns: [{ pattern: '/up/:name/a.js', addon: 'chat' }] }
  const effect = { addon: 'chat', effect: 'leave-out' as const, rules: [], conflictsWith: [] }
  expect(stopList([effect], sources)!.patterns).toEqual([['+/up/:name/a.js', 1]])
})

it('needs no evaluation of texts, which a page may forbid', () => {
  const effect = { addon: 'far', effect: 'leave-out' as const, rules: [], conflictsWith: [] }
  const list = stopList([effect], { ...NO_SOURCES, outsiders: { 'far.test': 'far' } })!
  expect(stopper(list)).not.toMatch(/\beval\b|\bFunction\(/)
})
