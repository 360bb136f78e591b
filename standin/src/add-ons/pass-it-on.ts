import { scriptTag, styleTag, type AddOn, type AddOnFile } from '../cms/add-on.js'
import { bulkScript, bulkStyle } from '../files/bulk-code.js'
import { shippedFile, shippedWith } from '../files/shipped.js'
import { fontFile } from '../outsiders/font-file.js'

const BASE = '/add-ons/pass-it-on'
const SCRIPT = `${BASE}/pass-it-on.js`
const STYLE = `${BASE}/pass-it-on.css`
const SIGNS = ['letter', 'link', 'print']
const sign = (n: number) =>
  `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 18 18"><path fill="none" stroke="#23452f" stroke-width="1.5" d="${['M2 4h14v10H2zM2 4l7 6 7-6', 'M7 11l4-4M5 9l-2 2a3 3 0 0 0 4 4l2-2M9 5l2-2a3 3 0 0 1 4 4l-2 2', 'M5 7V2h8v5M3 7h12v6H3zM5 11h8v5H5z'][n]}"/></svg>`

/** A bar for passing a page on, under every page. */
const plain: AddOn = {
  manifest: {
    slug: 'pass-it-on',
    kind: 'plugin',
    name: 'Pass It On',
    version: '3.0.4',
    author: 'Handrail Collective',
    summary: 'Buttons for passing a page on.',
    features: SIGNS.map((slug) => ({ slug, name: slug[0]!.toUpperCase() + slug.slice(1), on: true })),
    needs: [],
    canSkip: true,
  },
  files: [
    {
      path: SCRIPT,
      type: 'script',
      body: shippedWith('pass-it-on/pass-it-on.js', bulkScript('pass-networks', 27_000)),
    },
    { path: STYLE, type: 'style', body: shippedFile('pass-it-on/pass-it-on.css') },
    ...SIGNS.map((name, n) => ({ path: `${BASE}/${name}.svg`, type: 'picture' as const, body: Buffer.from(sign(n)) })),
  ],
  tags: () => [styleTag(STYLE), scriptTag(SCRIPT)],
  async afterContent({ feature }) {
    const buttons = SIGNS.filter((name) => feature(name)).map(
      (name) => `<button><img src="${BASE}/${name}.svg" alt=""> ${name}</button>`,
    )
    return `<div class="pass-it-on">Pass this page on: ${buttons.join('')}<output></output></div>`
  },
}

const paid = (name: string, bulk: number): AddOnFile => ({
  path: `${BASE}/plus/${name}.js`,
  type: 'script',
  body: Buffer.from(bulkScript(`pass-plus-${name}`, bulk)),
})

const PAID_SCRIPTS = [
  paid('figures', 92_000),
  paid('networks', 146_000),
  paid('floating', 68_000),
  paid('colours', 56_000),
]
const PAID_STYLE = `${BASE}/plus/plus.css`
const PAID_FONTS = ['400', '700'].map((weight) => ({
  path: `${BASE}/plus/signs-${weight}.woff2`,
  type: 'font' as const,
  body: fontFile('sans', weight),
}))

/** The paid edition: seven requests more on every page, and nothing on it that was not there before. */
const plus: AddOn = {
  ...plain,
  manifest: { ...plain.manifest, version: '3.0.4-plus', summary: 'Buttons for passing a page on, paid edition.' },
  files: [
    ...plain.files,
    ...PAID_SCRIPTS,
    ...PAID_FONTS,
    {
      path: PAID_STYLE,
      type: 'style',
      body: Buffer.from(
        PAID_FONTS.map(
          ({ path }, n) =>
            `@font-face{font-family:"Pass Signs";font-weight:${n ? 700 : 400};src:url(${path}) format("woff2")}`,
        ).join('\n') +
          '\n.pass-it-on::before{font-family:"Pass Signs";content:" "}.pass-it-on::after{font:700 1em "Pass Signs";content:" "}\n' +
          bulkStyle('pass-plus', 9_000),
      ),
    },
  ],
  tags: (page) => [...plain.tags(page), styleTag(PAID_STYLE), ...PAID_SCRIPTS.map(({ path }) => scriptTag(path))],
}

export const passItOn: AddOn = { ...plain, releases: [plus] }
