import { scriptTag, styleTag, type AddOnFile } from '../cms/add-on.js'
import { plugin } from '../cms/plugin.js'
import { bulkScript, bulkStyle } from '../files/bulk-code.js'
import { escapeHtml } from '../http/answer.js'

const USED = ['appeal', 'columns', 'timeline', 'quote', 'faces']
const UNUSED =
  'accordion alert badge banner before-after carousel chart clock counter cover divider download embed facts feed flip gallery gauge headline hours icon-list lightbox logo-row marquee notice pricing progress ribbon rota scroller spacer spotlight steps tabs toggle'.split(
    ' ',
  )
const BLOCKS = [...USED, ...UNUSED]
const BASE = '/add-ons/grove-builder'

const files: AddOnFile[] = BLOCKS.flatMap((block): AddOnFile[] => [
  {
    path: `${BASE}/blocks/${block}.js`,
    type: 'script',
    body: Buffer.from(
      `document.querySelectorAll('.grove-${block}').forEach(function (b) { b.classList.add('ready'); });\n${bulkScript(`grove-${block}`, 2_400)}`,
    ),
  },
  {
    path: `${BASE}/blocks/${block}.css`,
    type: 'style',
    body: Buffer.from(
      `.grove-${block}{margin:1.5rem 0;padding:1rem 1.25rem;border-left:4px solid #5d7b4b;background:#fff}\n${bulkStyle(`grove-${block}`, 900)}`,
    ),
  },
])

/** A page builder with forty blocks: five are in use, on known pages; each has a script and a style, and all load everywhere. */
export const groveBuilder = plugin({
  slug: 'grove-builder',
  name: 'Grove Builder',
  version: '3.11.0',
  author: 'Overstory Code',
  summary: 'Building blocks for pages.',
  features: BLOCKS.map((slug) => ({ slug, name: slug[0]!.toUpperCase() + slug.slice(1).replace('-', ' '), on: true })),
  files,
  office: ({ page }) => page.path === '/office/editor',
  moreTags: ({ feature }) =>
    BLOCKS.filter((block) => feature(block)).flatMap((block) => [
      styleTag(`${BASE}/blocks/${block}.css`),
      scriptTag(`${BASE}/blocks/${block}.js`),
    ]),
  on: () => true,
  featureOfBlock: (_, { block }) => block,
  blocks: {
    grove: async (_, { block = '', title = '' }) =>
      `<section class="grove-${escapeHtml(block)}"><h3>${escapeHtml(title)}</h3><p>Laid out with the ${escapeHtml(block)} block.</p></section>`,
  },
})
