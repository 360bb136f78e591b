// npm run fonts: cuts the typefaces down to what the interface is written in, and to the weights it uses. What else sites
// are called comes from the whole files, which the browser fetches only where there is such a letter.
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { dirname, join } from 'node:path'
import subsetFont from 'subset-font'
import { ROOT } from './lib/workspace.mjs'

// The serif stands in two weights, of which most places need one: each is a file of its own, so that only that is fetched. What is
// missing in it is looked for in the whole family, which stands behind it in --font-serif.
const FACES = [
  // As the whole files say, so that what is missing here is looked for there.
  {
    family: 'Source Sans 3 Variable',
    name: 'source-sans-3',
    file: 'source-sans-3',
    weights: { min: 400, max: 600 },
    says: '200 900',
  },
  { family: 'Source Serif 4 Cut', name: 'source-serif-4', file: 'source-serif-4-400', weights: 400, says: '400' },
  { family: 'Source Serif 4 Cut', name: 'source-serif-4', file: 'source-serif-4-600', weights: 600, says: '600' },
]
// What the interface itself is written in. Letters with marks, which only names of sites and pages have, come from the whole files.
const RANGES = [
  [0x20, 0x7e],
  // No-break space, degree, plus-minus, middle dot, half, multiplication sign.
  ...[0xa0, 0xa7, 0xb0, 0xb1, 0xb7, 0xbd, 0xd7].map((c) => [c, c]),
  // Dashes, quotes, bullet, ellipsis; euro; arrows, minus and comparisons that the interface has.
  ...[
    0x2013, 0x2014, 0x2018, 0x2019, 0x201c, 0x201d, 0x2022, 0x2026, 0x20ac, 0x2190, 0x2191, 0x2192, 0x2193, 0x2212,
    0x2264, 0x2265,
  ].map((c) => [c, c]),
]

const require = createRequire(join(ROOT, 'web/package.json'))
const folder = join(ROOT, 'web/src/fonts')
mkdirSync(folder, { recursive: true })
const text = RANGES.flatMap(([from, to]) =>
  Array.from({ length: to - from + 1 }, (_, n) => String.fromCodePoint(from + n)),
).join('')
const range = RANGES.map(([from, to]) => (from === to ? `U+${hex(from)}` : `U+${hex(from)}-${hex(to)}`)).join(', ')
const rules = []
for (const { family, name, file, weights, says } of FACES) {
  const package_ = dirname(require.resolve(`@fontsource-variable/${name}/package.json`))
  const whole = readFileSync(join(package_, `files/${name}-latin-wght-normal.woff2`))
  const cut = await subsetFont(whole, text, { targetFormat: 'woff2', variationAxes: { wght: weights } })
  writeFileSync(join(folder, `${file}.woff2`), cut)
  console.log(`${file}: ${whole.length} bytes, ${cut.length} of them kept`)
  rules.push(`@font-face {
  font-family: '${family}';
  font-style: normal;
  font-display: swap;
  font-weight: ${says};
  src: url('./${file}.woff2') format('woff2');
  unicode-range: ${range};
}
`)
}
writeFileSync(join(folder, 'fonts.css'), `/* Made by npm run fonts. */\n${rules.join('\n')}`)

function hex(code) {
  return code.toString(16).toUpperCase().padStart(4, '0')
}
