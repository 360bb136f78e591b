import fc from 'fast-check'
import { toBytes, unite, type Range } from '../src/idle/byte-ranges.js'
import { readStyleRules } from '../src/idle/style-use.js'
import { heldByScripts, usedNowhere, withoutRules } from '../src/idle/used-nowhere.js'

const CSS = `@charset "utf-8";
/* Grün */
h1 { color: green }
.gone { color: red }
.button:hover { color: blue }
.lost:hover { color: blue }
.field.has-error { color: plum }
.set-later { color: teal }
@media print { .footer { display: none } }
@media (min-width: 4000px) { .wall { width: 9000px } }
@media (min-width: 700px) {
  .seen { margin: 0 }
  .old { margin: 1px }
}
@media (max-width: 600px) {
  .never { margin: 2px }
  .never-either { margin: 2px }
}
@font-face { font-family: Reed; src: url(reed.woff2) }
@keyframes sway { to { rotate: 1turn } }
@keyframes pulse { to { opacity: 0 } }
.lost:hover { animation: pulse 1s }
`
/** As if a page had used the rules that hold one of these words. */
const usedBy = (css: string, words: string[]): Range[] =>
  toBytes(
    unite(
      readStyleRules(css)
        .filter(({ from, to }) => words.some((word) => css.slice(from, to).includes(word)))
        .map(({ from, to }): Range => [from, to]),
    ),
    css,
  )
const USED = usedBy(CSS, ['h1', '.button', '.seen'])
const reasons = (rules: ReturnType<typeof usedNowhere>) =>
  Object.fromEntries(rules.map(({ name, because, line }) => [`${name} in ${line}`, because]))

it('names what is used nowhere with its line, and keeps what a state, a medium or a script may bring', () => {
  const found = usedNowhere(CSS, USED)
  expect(reasons(found)).toEqual({
    '.gone in 4': null,
    '.lost:hover in 6': 'state',
    '.field.has-error in 7': 'state',
    '.set-later in 8': null,
    '.footer in 9': 'print',
    '.wall in 10': 'condition',
    '.old in 13': null,
    '.never in 16': 'condition',
    '.never-either in 17': 'condition',
    'reed 400 normal in 19': null,
    'sway in 20': null,
    'pulse in 21': 'state',
    '.lost:hover in 22': 'state',
  })
  const held = heldByScripts(found, (name) => name === 'set-later')
  expect(reasons(held)).toMatchObject({ '.set-later in 8': 'script', '.gone in 4': null })
  expect(found.find(({ name }) => name === '.gone')!.bytes).toBe('.gone { color: red }'.length)
})

it('words of states are told from words that only look like them', () => {
  const names = ['is-here', 'no-svg', 'fade.in', 'nav--on', 'card-error', 'tab_active', 'error404']
  const plain = ['only-on-deep', 'history', 'inner', 'notice-board2', 'isle']
  const css = [...names, ...plain].map((name) => `.${name} { color: red }`).join('\n')
  const because = usedNowhere(css, []).map(({ because }) => because)
  expect(because).toEqual([
    ...names.map((name) => (name === 'error404' ? null : 'state')),
    null,
    null,
    null,
    'state',
    null,
  ])
})

it('a rule of which any part was used is used, where letters take several bytes, too', () => {
  const css = 'p::before { content: "→→→" } .späht { color: red } b { color: red }'
  const used = usedBy(css, ['späht'])
  expect(usedNowhere(css, used).map(({ name }) => name)).toEqual(['p::before', 'b'])
})

it('leaves out what nothing speaks for, and blocks of which nothing is left, and no other letter', () => {
  const gone = heldByScripts(usedNowhere(CSS, USED), () => false).filter(
    ({ because, what }) => because === null && what !== 'typeface',
  )
  const rest = withoutRules(CSS, gone)
  expect(rest).toBe(
    CSS.replace('.gone { color: red }\n', '')
      .replace('.set-later { color: teal }\n', '')
      .replace('  .old { margin: 1px }\n', '')
      .replace('@keyframes sway { to { rotate: 1turn } }\n', ''),
  )
  expect(withoutRules('@media print {\n  .a { b: c }\n}\nh1 { d: e }', [{ from: 17, to: 28 }])).toBe('h1 { d: e }')
})

it('whatever goes, all that stays is read as it was, in its order', () => {
  const simple = fc.tuple(
    fc.constantFrom('.a', '#b', 'p > i', '.c:hover', 'ü.d'),
    fc.constantFrom('red', '"}{"', 'url("a;b")'),
  )
  const rule = simple.map(([selector, value]) => `${selector} { color: ${value}; x: "/*" }`)
  const block = fc.array(rule, { maxLength: 4 }).map((inner) => `@media screen {\n${inner.join('\n')}\n}`)
  const sheet = fc.array(fc.oneof(rule, block), { maxLength: 8 }).map((parts) => parts.join('\n'))
  fc.assert(
    fc.property(sheet, fc.array(fc.boolean(), { minLength: 40, maxLength: 40 }), (css, goes) => {
      const rules = readStyleRules(css).filter(({ selectors }) => selectors.length > 0)
      const gone = rules.filter((_, n) => goes[n])
      const rest = withoutRules(css, gone)
      const textOf = (text: string) =>
        readStyleRules(text)
          .filter(({ selectors }) => selectors.length > 0)
          .map(({ from, to, media }) => `${media.join()} ${text.slice(from, to)}`)
      const stays = rules
        .filter((_, n) => !goes[n])
        .map(({ from, to, media }) => `${media.join()} ${css.slice(from, to)}`)
      expect(textOf(rest)).toEqual(stays)
    }),
  )
})
