import fc from 'fast-check'
import { parse, type DefaultTreeAdapterTypes as Tree } from 'parse5'
import { codeHash, findInlineCode, inlineAt, markedElements, type InlineCode } from '../src/index.js'

it('finds scripts and styles with their lines, and passes over data and files', () => {
  const html = `<!doctype html>
<style id="look">p{color:red}</style>
<script type="application/json">{"a":1}</script>
<script src="/x.js"></script>
<body><script id="go">
let größe = 1
</script><template><script type="module">import '/y.js'</script></template>`
  expect(findInlineCode(html)).toMatchObject([
    { type: 'style', elementId: 'look', startLine: 1, endLine: 1, bytes: 12 },
    { type: 'script', elementId: 'go', startLine: 4, endLine: 6, bytes: 17 },
    { type: 'script', elementId: null, startLine: 6 },
  ])
})

it('knows pasted code again whatever stands around it', () => {
  expect(codeHash('  go()\n')).toBe(codeHash('go()'))
  expect(codeHash('go()')).not.toBe(codeHash('go(1)'))
})

it('tells code that shares a line apart by its columns', () => {
  const html = '<p><script>other()</script><script id=snip>load()</script>'
  const at = inlineAt(findInlineCode(html))
  expect([at(0, html.indexOf('other')), at(0, html.indexOf('load')), at(0, 0), at(0), at(1, 3)]).toEqual([
    0, 1, -1, -1, -1,
  ])
  // Without columns, a line that two pieces share says nothing, and one that a single piece has says all.
  const old = (lines: [number, number][]) =>
    inlineAt(lines.map(([startLine, endLine]) => ({ startLine, endLine }) as InlineCode))
  expect([old([[0, 0], [0, 0]])(0, 4), old([[0, 0], [2, 400]])(0, 4), old([[0, 0], [2, 400]])(300)]).toEqual([-1, 0, 1]) // prettier-ignore
})

it('goes through deep and tangled HTML once', () => {
  expect(findInlineCode('<div>'.repeat(50_000))).toEqual([])
  expect([...markedElements(`<!--unvelt:a-->${'<div>'.repeat(50_000)}`)]).toEqual([['a', 50_000]])
  const open = Array.from({ length: 5_000 }, (_, n) => `<b a${n}>`).join('') + '<p>x'.repeat(5_000)
  expect(findInlineCode(`<p>${open}<script>a()</script>`)).toHaveLength(1)
})

/** What parse5's tree says. */
function byTree(html: string): unknown[] {
  const found: unknown[] = []
  const visit = (node: Tree.Node): void => {
    if ('tagName' in node && (node.tagName === 'script' || node.tagName === 'style')) {
      const { startLine, startCol, endTag } = node.sourceCodeLocation!
      const text = node.childNodes.map((child) => ('value' in child ? child.value : '')).join('')
      const of = { hash: codeHash(text), startLine: startLine - 1, startColumn: startCol - 1 }
      // Of what never ends it gives no end worth having.
      const end = endTag ? { endLine: endTag.endLine - 1, endColumn: endTag.endCol - 1 } : {}
      found.push({ ...of, ...end, elementId: node.attrs.find(({ name }) => name === 'id')?.value ?? null })
    }
    if (node.nodeName === 'template') visit((node as Tree.Template).content)
    if ('childNodes' in node) node.childNodes.forEach(visit)
  }
  visit(parse(html, { sourceCodeLocationInfo: true }))
  return found
}

it('finds what a parser with a tree finds', () => {
  const part = fc.constantFrom(
    '<script>', '</script>', '<script id=a>', '<style id="b&amp;c">', '</style>', '<p>', '</p>', '\r\n', '\n', '\r', 'x()', '<!-- ', ' -->', '<b>',
    'größe', '<template>', '</template>', '<div title="<script>">', '<textarea>', '</textarea>', '<title>', '</title>', '<head>', '<body>', ' ',
  ) // prettier-ignore
  fc.assert(
    fc.property(
      fc.array(part, { maxLength: 14 }).map((parts) => `${parts.join('')}</style></script>`),
      (html) => {
        const ours = findInlineCode(html).map(({ type: _, bytes: __, ...rest }) => rest)
        expect(ours).toMatchObject(byTree(html) as object[])
        expect(ours).toHaveLength(byTree(html).length)
      },
    ),
    { numRuns: 1_500 },
  )
})
