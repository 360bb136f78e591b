import { codeHash, findInlineCode } from '../src/index.js'

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
