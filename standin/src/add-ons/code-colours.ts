import { scriptTag, type AddOnFile } from '../cms/add-on.js'
import { plugin } from '../cms/plugin.js'
import { bulkScript } from '../files/bulk-code.js'

const PACKS = ['text', 'web', 'shell', 'tables']
const BASE = '/add-ons/code-colours'

const SOUND = `(window.colours = window.colours || []).push(function (pre) {
  pre.innerHTML = pre.innerHTML.replace(/\\b(filter|map|len|print)\\b/g, '<b>$1</b>'); pre.classList.add('coloured');
});`
/** The new pack for plain text means well: it wants a table of words that only the paid edition has. */
const BROKEN = `(window.colours = window.colours || []).push(function (pre) {
  pre.textContent = ''; pre.append(colourTables[pre.dataset.language].paint(pre)); pre.classList.add('coloured');
});`

function release(version: string, textPack: string) {
  const files = PACKS.map((pack): AddOnFile => ({
    path: `${BASE}/pack-${pack}.js`,
    type: 'script',
    body: Buffer.from(`${pack === 'text' ? textPack : ''}\n${bulkScript(`colours-${pack}-${version}`, 15_000)}`),
  }))
  return plugin({
    slug: 'code-colours',
    name: 'Code Colours',
    version,
    author: 'Inkwell Tools',
    summary: 'Colours program code in articles.',
    features: PACKS.map((slug) => ({ slug, name: `Language pack: ${slug}`, on: true })),
    files,
    script: {
      bulk: 24_000,
      code: `document.querySelectorAll('pre.code').forEach(function (pre) { (window.colours || []).forEach(function (paint) { paint(pre); }); });`,
    },
    style: { bulk: 9_000, code: 'pre.code{background:#f1eee4;padding:1rem}pre.coloured b{color:#8a4b12}' },
    earlyTags: ({ feature }) =>
      PACKS.filter((pack) => feature(pack)).map((pack) => scriptTag(`${BASE}/pack-${pack}.js`)),
  })
}

/** Colours program code: one article has some. Version 4.1.0 breaks that article by one of its six files. */
export const codeColours = { ...release('4.0.0', SOUND), releases: [release('4.1.0', BROKEN)] }
