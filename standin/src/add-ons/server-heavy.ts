import { request } from 'node:http'
import { seeded } from '@unvelt/core'
import { plugin } from '../cms/plugin.js'
import { OFFICE_PAGES } from '../content/office-pages.js'
import { PAGES } from '../content/pages.js'
import { escapeHtml } from '../http/answer.js'

/** Counts every view in the database, with a row of its own; the second counter beside the one from outside. */
export const pageTally = plugin({
  slug: 'page-tally',
  name: 'Page Tally',
  version: '1.4.0',
  author: 'Notch & Stick',
  summary: 'Counts page views in the site’s own database.',
  tables: ['tally_views'],
  async setUp(database) {
    // Long ago the views were thrown away one by one; the table has kept the air.
    const [before] = await database.query<{ there: boolean }>(
      `select to_regclass('public.tally_views') is not null there`,
    )
    await database.query(
      'create table if not exists tally_views (path text not null, seen_at timestamptz not null default now())',
    )
    if (before!.there) return
    await database.query(`insert into tally_views select '/old/' || g, now() from generate_series(1, 60000) g`)
    // One row at the very end keeps the space from being given back.
    await database.query(`delete from tally_views where path <> '/old/60000'`)
  },
  async beforeContent({ page, database, trace }) {
    await database.query('insert into tally_views (path) values ($1)', [page.path], trace)
    await database.query('select count(*) from tally_views where path = $1', [page.path], trace)
  },
})

/** Proposes articles that are like this one: it compares texts in the database, and there is no index to help. */
export const relatedReads = plugin({
  slug: 'related-reads',
  name: 'Related Reads',
  version: '2.0.9',
  author: 'Burrow & Find',
  summary: 'More to read under each article.',
  style: { bulk: 3_000, code: '.related{display:grid;gap:.25rem}' },
  tables: ['related_texts'],
  async setUp(database) {
    await database.query('create table if not exists related_texts (path text, title text, words text)')
    const [count] = await database.query<{ n: number }>('select count(*)::int n from related_texts')
    if (count!.n > 0) return
    const random = seeded(Number(process.env.STANDIN_SEED ?? 1887))
    const words = () => Array.from({ length: 60 }, () => Math.floor(random() * 1e6).toString(36)).join(' ')
    const rows = PAGES.filter((p) => p.kind === 'article').flatMap(({ path, title }) =>
      Array.from({ length: 120 }, () => ({ path, title, words: words() })),
    )
    await database.query('insert into related_texts select * from unnest($1::text[], $2::text[], $3::text[])', [
      rows.map((row) => row.path),
      rows.map((row) => row.title),
      rows.map((row) => row.words),
    ])
  },
  blocks: {
    async related({ page, database, trace }, { limit }) {
      const rows = await database.query<{ path: string; title: string }>(
        `select path, title from related_texts where path <> $1 group by path, title
         order by max(length(regexp_replace(words, '[' || $2 || ']', '', 'g'))) desc, path limit $3`,
        [page.path, page.title.replace(/[^a-z]/gi, '').toLowerCase() || 'a', Number(limit ?? 3)],
        trace,
      )
      return `<div class="related">${rows.map((row) => `<a href="${row.path}">${escapeHtml(row.title)}</a>`).join('')}</div>`
    },
  },
})

/** Looks up every link of the site at every view, to see whether one is dead. Works unseen. */
export const linkWarden = plugin({
  slug: 'link-warden',
  name: 'Link Warden',
  version: '0.7.3',
  author: 'Mend Well',
  summary: 'Watches for dead links.',
  works: 'unseen',
  settings: [
    { slug: 'links-at-a-time', name: 'Links looked up at a time', value: 2, least: 1, most: 20, perPage: true },
  ],
  tables: ['warden_links'],
  office: () => true,
  async onSave(path, database, trace) {
    await database.query(`select target from warden_links where target like '%' || $1 || '%'`, [path], trace)
  },
  tasks: [
    {
      name: 'warden_round',
      everySeconds: 3_600,
      async run(database) {
        await database.query('update warden_links set state = 200 + (state + 7) % 300 where target like $1', [
          '/old/1%',
        ])
      },
    },
  ],
  async setUp(database) {
    await database.query('create table if not exists warden_links (target text, state integer, note text)')
    const [count] = await database.query<{ n: number }>('select count(*)::int n from warden_links')
    if (count!.n === 0)
      await database.query(
        `insert into warden_links select '/old/' || g, 200 + (g % 300), md5(g::text) from generate_series(1, 30000) g`,
      )
  },
  async beforeContent({ page, database, trace, setting }) {
    for (let n = 0; n < setting('links-at-a-time'); n++)
      await database.query(
        `select count(*) from warden_links where note like '%' || substr(md5($1), $2, 3) || '%' and state >= 400`,
        [page.path, n + 1],
        trace,
      )
  },
})

/** Sends old addresses on: a look into its table at each request. Works unseen, and is needed. */
export const signpost = plugin({
  slug: 'signpost',
  name: 'Signpost',
  version: '1.1.0',
  author: 'Waymark',
  summary: 'Sends old addresses on to new ones.',
  works: 'unseen',
  tables: ['signpost_moves'],
  async setUp(database) {
    await database.query('create table if not exists signpost_moves (old text primary key, new text not null)')
    await database.query(`insert into signpost_moves values ('/visit', '/plan-a-visit') on conflict do nothing`)
  },
  async beforeContent({ page, database, trace }) {
    await database.query('select new from signpost_moves where old = $1', [page.path], trace)
  },
})

/** A menu that asks the database for each of its entries, and for their parents, one by one: two hundred queries. */
export const brambleMenu = plugin({
  slug: 'bramble-menu',
  name: 'Bramble Menu',
  version: '5.5.5',
  author: 'Thicket',
  summary: 'Menus with many levels.',
  tables: ['bramble_entries'],
  // It draws the editors' menu too: who leaves it out everywhere leaves them without.
  office: () => true,
  slots: {
    'office-menu': async ({ page }) =>
      `<nav aria-label="Back office">${OFFICE_PAGES.map((p) => `<a href="${p.path}"${p.path === page.path ? ' aria-current="page"' : ''}>${escapeHtml(p.title)}</a>`).join('')}</nav>`,
    menu: async ({ page, pages }) => {
      const beside = pages.filter((p) => p.kind === page.kind && p.kind !== 'page' && !p.roles).slice(0, 6)
      return beside.length === 0
        ? ''
        : `<nav class="bramble" aria-label="Beside">${beside.map((p) => `<a href="${p.path}"${p.path === page.path ? ' aria-current="page"' : ''}>${escapeHtml(p.title)}</a>`).join('')}</nav>`
    },
  },
  async setUp(database) {
    await database.query(
      'create table if not exists bramble_entries (id integer primary key, parent integer, title text)',
    )
    await database.query(
      `insert into bramble_entries select g, g / 4, 'Entry ' || g from generate_series(1, 100) g on conflict do nothing`,
    )
  },
  async beforeContent({ database, trace }) {
    for (let id = 1; id <= 100; id++) {
      const [entry] = await database.query<{ parent: number }>(
        'select parent from bramble_entries where id = $1',
        [id],
        trace,
      )
      await database.query('select title from bramble_entries where id = $1', [entry!.parent], trace)
    }
  },
})

/** Asks another company for the river's level while the page is made, and waits for the answer. */
export const riverLevel = plugin({
  slug: 'river-level',
  name: 'River Level',
  version: '1.0.2',
  author: 'Gauge House',
  kind: 'widget',
  summary: 'The level of the river, from a measuring service.',
  blocks: { river: async ({ address }) => `<p>The river stands at ${escapeHtml(await askLevel(address))} cm.</p>` },
  async beforeContent({ address }) {
    await askLevel(address)
  },
})

function askLevel(page: URL): Promise<string> {
  return new Promise((resolve) => {
    const sent = request(
      {
        host: '127.0.0.1',
        port: page.port,
        path: '/level',
        headers: { host: `gaugehouse.localhost:${page.port}` },
        timeout: 2000,
      },
      (response) => {
        let text = ''
        response.on('data', (chunk: Buffer) => (text += chunk.toString('utf8')))
        response.on('end', () => resolve(text))
      },
    )
    sent.on('timeout', () => sent.destroy())
    sent.on('error', () => resolve('unknown'))
    sent.end()
  })
}
