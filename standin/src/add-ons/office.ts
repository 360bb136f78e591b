import { scriptTag, styleTag } from '../cms/add-on.js'
import { BLOCK } from '../cms/make-page.js'
import { plugin } from '../cms/plugin.js'
import { shippedFile } from '../files/shipped.js'
import { escapeHtml } from '../http/answer.js'

const STYLE = '/loam/office.css'
const SCRIPT = '/loam/office.js'

/** What the page's content draws through add-ons, each to be taken out. */
function blocksOf(body: string): string {
  const blocks = [...new Set([...body.matchAll(BLOCK)].map(([block]) => block))]
  if (blocks.length === 0) return ''
  const boxes = blocks.map(
    (block) => `<label><input type="checkbox" name="drop" value="${escapeHtml(block)}"> ${escapeHtml(block)}</label>`,
  )
  return `<fieldset><legend>Take out of the page</legend>${boxes.join('')}</fieldset>`
}

const table = (heads: string[], rows: string[][]) =>
  `<table><thead><tr>${heads.map((head) => `<th>${head}</th>`).join('')}</tr></thead><tbody>${rows
    .map((row) => `<tr>${row.map((cell) => `<td>${cell}</td>`).join('')}</tr>`)
    .join('')}</tbody></table>`

/** The back office of the CMS: its look, its script and its screens. */
export const loamOffice = plugin({
  slug: 'loam-office',
  name: 'Back office',
  kind: 'built-in',
  version: '6.3.1',
  author: 'Loam',
  summary: 'The screens of the editors.',
  office: () => true,
  on: ({ page }) => page.area === 'office',
  files: [
    { path: STYLE, type: 'style', body: shippedFile('loam/office.css') },
    { path: SCRIPT, type: 'script', body: shippedFile('loam/office.js') },
  ],
  moreTags: () => [styleTag(STYLE), scriptTag(SCRIPT)],
  blocks: {
    async 'office-news'({ database, trace }) {
      const [letters] = await database.query<{ n: number }>('select count(*)::int n from enquiry_letters', [], trace)
      const [orders] = await database.query<{ n: number }>(
        'select count(*)::int n from stall_orders where not packed',
        [],
        trace,
      )
      const [words] = await database.query<{ n: number }>('select count(*)::int n from comments', [], trace)
      return `<div class="tiles"><p><b>${orders!.n}</b> orders to be packed</p><p><b>${letters!.n}</b> letters</p><p><b>${words!.n}</b> comments</p></div>`
    },
    async 'office-tally'({ database, trace }) {
      const rows = await database.query<{ path: string; n: number }>(
        'select path, count(*)::int n from tally_views group by path order by n desc limit 8',
        [],
        trace,
      )
      return `<h2>Most seen</h2>${table(
        ['Page', 'Views'],
        rows.map(({ path, n }) => [escapeHtml(path), String(n)]),
      )}`
    },
    'office-content': async ({ pages }) =>
      table(
        ['Page', 'Kind', 'Changed', ''],
        pages
          .filter((p) => p.area === 'public')
          .sort((a, b) => (b.modified ?? '').localeCompare(a.modified ?? ''))
          .map((p) => [
            `<a href="${p.path}">${escapeHtml(p.title)}</a>`,
            p.kind,
            p.modified ?? '',
            `<a href="/office/editor?path=${encodeURIComponent(p.path)}">Edit</a>`,
          ]),
      ),
    async 'office-editor'({ address, pages }) {
      const path = address.searchParams.get('path') ?? '/about'
      const page = pages.find((p) => p.path === path && p.area === 'public')
      if (!page) return '<p>There is no such page.</p>'
      const saved = address.searchParams.has('saved') ? '<p role="status">Saved.</p>' : ''
      return `${saved}<form class="editor" method="post" action="/office/editor"><input type="hidden" name="path" value="${escapeHtml(page.path)}"><label>Title<input name="title" maxlength="200" value="${escapeHtml(page.title)}" required></label><label>First line<textarea name="lead" rows="3" maxlength="500">${escapeHtml(page.lead)}</textarea></label>${blocksOf(page.body)}<button>Save</button></form>`
    },
    'office-media': async ({ pages }) =>
      `<div class="media">${pages
        .filter((p) => p.area === 'public')
        .slice(0, 12)
        .map(
          (p) =>
            `<figure><img src="/media/tree-${p.picture}.svg" alt="" width="240" height="80" loading="lazy"><figcaption>${escapeHtml(p.title)}</figcaption></figure>`,
        )
        .join('')}</div>`,
    'office-add-ons': async ({ installed }) =>
      table(
        ['Add-on', 'Kind', 'Version', 'State'],
        installed.map(({ manifest, active = true }) => [
          `${escapeHtml(manifest.name)}<br><small>${escapeHtml(manifest.summary)}</small>`,
          manifest.kind,
          escapeHtml(manifest.version),
          active ? 'on' : 'off',
        ]),
      ),
    async 'office-settings'({ database, trace }) {
      const rows = await database.query<{ owner: string; n: number; bytes: number }>(
        'select owner, count(*)::int n, sum(length(value))::int bytes from loam_options group by owner order by owner',
        [],
        trace,
      )
      return table(
        ['Owner', 'Options', 'Bytes'],
        rows.map(({ owner, n, bytes }) => [escapeHtml(owner), String(n), String(bytes)]),
      )
    },
    async 'office-menus'({ database, trace }) {
      const rows = await database.query<{ title: string; parent: number }>(
        'select title, parent from bramble_entries order by id limit 20',
        [],
        trace,
      )
      return table(
        ['Entry', 'Below'],
        rows.map(({ title, parent }) => [escapeHtml(title), parent ? String(parent) : '']),
      )
    },
  },
})
