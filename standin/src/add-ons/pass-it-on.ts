import { scriptTag, styleTag, type AddOn } from '../cms/add-on.js'
import { bulkScript } from '../files/bulk-code.js'
import { shippedFile, shippedWith } from '../files/shipped.js'

const BASE = '/add-ons/pass-it-on'
const SCRIPT = `${BASE}/pass-it-on.js`
const STYLE = `${BASE}/pass-it-on.css`
const SIGNS = ['letter', 'link', 'print']
const sign = (n: number) =>
  `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 18 18"><path fill="none" stroke="#23452f" stroke-width="1.5" d="${['M2 4h14v10H2zM2 4l7 6 7-6', 'M7 11l4-4M5 9l-2 2a3 3 0 0 0 4 4l2-2M9 5l2-2a3 3 0 0 1 4 4l-2 2', 'M5 7V2h8v5M3 7h12v6H3zM5 11h8v5H5z'][n]}"/></svg>`

/** A bar for passing a page on, under every page. */
export const passItOn: AddOn = {
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
  async afterContent() {
    const buttons = SIGNS.map((name) => `<button><img src="${BASE}/${name}.svg" alt=""> ${name}</button>`)
    return `<div class="pass-it-on">Pass this page on: ${buttons.join('')}<output></output></div>`
  },
}
