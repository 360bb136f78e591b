import { styleTag } from '../cms/add-on.js'
import { plugin, type PluginSpec } from '../cms/plugin.js'
import { comments } from '../content/comments.js'
import { escapeHtml } from '../http/answer.js'
import { outside } from '../outsiders/address.js'

const builtIn = { author: 'Loam', kind: 'built-in' as const, version: '6.3.1' }

/** Features of the CMS itself, each with its own small toll on every page. */
export const builtIns = [
  plugin({
    ...builtIn,
    slug: 'pictogram-fallback',
    name: 'Pictogram fallback',
    summary: 'Draws pictograms as pictures in old browsers.',
    script: { bulk: 14_000, code: `window.pictograms = !!document.createElement('canvas').getContext;` },
  }),
  plugin({
    ...builtIn,
    slug: 'link-cards',
    name: 'Link cards',
    summary: 'Shows pages of other sites as cards.',
    script: { bulk: 3_600, code: `window.linkCards = document.querySelectorAll('a.card').length;` },
  }),
  plugin({
    ...builtIn,
    slug: 'presence-ping',
    name: 'Presence ping',
    summary: 'Says every ten seconds that somebody is here.',
    office: () => true,
    on: () => true,
    script: { bulk: 1_800, code: `setInterval(function () { navigator.sendBeacon('/presence'); }, 10000);` },
  }),
  plugin({
    ...builtIn,
    slug: 'old-browser-helper',
    name: 'Old browser helper',
    summary: 'Fills gaps in browsers that nobody has any more.',
    script: {
      head: true,
      bulk: 31_000,
      code: `if (!Array.prototype.flat) Array.prototype.flat = function () { return [].concat.apply([], this); };`,
    },
  }),
  plugin({
    ...builtIn,
    slug: 'syndication-links',
    name: 'Syndication links',
    summary: 'Points feed readers to the feed.',
    moreTags: () => [{ where: 'head', html: '<link rel="alternate" type="application/rss+xml" href="/feed.xml">' }],
  }),
  plugin({
    ...builtIn,
    slug: 'comments',
    name: 'Comments',
    summary: 'What readers write under articles, each with a face from outside.',
    features: [{ slug: 'lazy-faces', name: 'Load faces when they come into sight', on: false }],
    outsideHosts: ['manyfaces.localhost'],
    tables: ['comments'],
    async setUp(database) {
      await database.query('create table if not exists comments (id integer primary key, author text, words text)')
      const said = comments(140)
      await database.query(
        'insert into comments select * from unnest($1::int[], $2::text[], $3::text[]) on conflict do nothing',
        [said.map((_, n) => n + 1), said.map(({ author }) => author), said.map(({ words }) => words)],
      )
    },
    blocks: {
      async comments({ database, trace, address, feature, page }) {
        const rows = await database.query<{ id: number; author: string; words: string }>(
          'select * from comments order by id',
          [],
          trace,
        )
        const face = (id: number) => `${outside('manyfaces.localhost', address)}/face/${id}.svg`
        const lazy = feature('lazy-faces') ? ' loading="lazy"' : ''
        const list = rows.map(
          ({ id, author, words }) =>
            `<li><img src="${face(id)}" alt="" width="32" height="32"${lazy}> <span><b>${escapeHtml(author)}</b>: ${escapeHtml(words)}</span></li>`,
        )
        return `<h2>${rows.length} comments</h2><ol class="comments">${list.join('')}</ol><form class="comment" method="post" action="/forms/comment"><input type="hidden" name="path" value="${escapeHtml(page.path)}"><label>Name<input name="author" maxlength="80" required></label><label>Your comment<textarea name="words" rows="3" maxlength="2000" required></textarea></label><button>Post</button></form>`
      },
    },
    actions: {
      async '/forms/comment'({ form, database, trace, accepts }) {
        const [author, words] = ['author', 'words'].map((key) => form.get(key)?.trim() ?? '')
        if (!author || !words || author.length > 80 || words.length > 2_000)
          return { refused: 'Expected a name of at most 80 and a comment of at most 2000 characters.' }
        if (!(await accepts(words))) return { refused: 'This looks like an advertisement.' }
        await database.query(
          'insert into comments select coalesce(max(id), 0) + 1, $1, $2 from comments',
          [author, words],
          trace,
        )
        return { to: '/thanks?for=comment' }
      },
    },
  }),
]

/** Two share bars; this one is a widget from another maker. */
export const ribbonShare = plugin({
  slug: 'ribbon-share',
  name: 'Ribbon Share',
  version: '2.6.0',
  author: 'Ribbon & Co-operative',
  kind: 'widget',
  summary: 'A second bar for passing pages on, at the side.',
  script: {
    bulk: 22_000,
    code: `document.body.insertAdjacentHTML('beforeend', '<div class="ribbon-share" aria-label="Share">Share</div>');`,
  },
  style: {
    bulk: 6_000,
    code: '.ribbon-share{position:fixed;right:0;top:45%;background:#23452f;color:#fff;padding:.5rem;writing-mode:vertical-rl}',
  },
})

/** A font of pictograms, sixty kilobytes of it, for three of them. */
export const pictofont = plugin({
  slug: 'pictofont',
  name: 'Pictofont',
  version: '4.7.0',
  author: 'Pictofont',
  kind: 'font',
  summary: 'Pictograms as a font.',
  outsideHosts: ['pictofont.localhost'],
  moreTags: ({ address }) => [styleTag(`${outside('pictofont.localhost', address)}/pictofont.css`)],
})

/** Shown on every page, touched by nobody. */
export const gardenBadge = plugin({
  slug: 'garden-badge',
  name: 'Garden Badge',
  version: '1.0.0',
  author: 'Ribbon & Co-operative',
  kind: 'widget',
  summary: 'A badge that opens a list of other gardens.',
  script: {
    bulk: 16_000,
    code: `document.querySelector('footer').insertAdjacentHTML('beforeend', '<button class="garden-badge">Gardens nearby</button>');`,
  },
})

/** Its switch says off, and its file is loaded all the same. */
export const snowfall = plugin({
  slug: 'snowfall',
  name: 'Snowfall',
  version: '0.3.1',
  author: 'December Code',
  summary: 'Snow on the page in winter.',
  features: [{ slug: 'snow', name: 'Let it snow', on: false }],
  script: { bulk: 12_000, code: `window.snowfall = { on: false };` },
})

/** For the festival in spring; its block is on one page that is not announced yet. */
export const festival = plugin({
  slug: 'festival-programme',
  name: 'Festival Programme',
  version: '1.2.0',
  author: 'Ninefold Timetables',
  summary: 'The programme of the spring festival.',
  script: { bulk: 27_000, code: `window.festival = { starts: 'spring' };` },
})

const quiet = (slug: string, name: string, summary: string, more: Partial<PluginSpec> = {}) =>
  plugin({ slug, name, version: '2.1.0', author: 'Cellar Works', summary, ...more })

/** Add-ons that show nothing on any page: some work unseen, one worked once, four are switched off. */
export const unseen = [
  quiet('nightly-copy', 'Nightly Copy', 'Makes a backup every night.', {
    works: 'unseen',
    tables: ['nightly_copies'],
    async setUp(database) {
      await database.query(
        'create table if not exists nightly_copies (made_at timestamptz not null default now(), tables integer not null, row_count bigint not null)',
      )
    },
    tasks: [
      {
        name: 'nightly_copy',
        everySeconds: 86_400,
        async run(database) {
          await database.query(
            `insert into nightly_copies (tables, row_count) select count(*), coalesce(sum(n_live_tup), 0) from pg_stat_user_tables`,
          )
        },
      },
    ],
  }),
  quiet('weed-filter', 'Weed Filter', 'Keeps spam out of the comments.', {
    works: 'unseen',
    tables: ['weed_words'],
    async setUp(database) {
      await database.query('create table if not exists weed_words (word text primary key)')
      await database.query(`insert into weed_words values ('casino'), ('loan'), ('followers') on conflict do nothing`)
    },
    async guards(text, database, trace) {
      const [bad] = await database.query(
        `select word from weed_words where $1 like '%' || word || '%' limit 1`,
        [text.toLowerCase()],
        trace,
      )
      return bad === undefined && (text.match(/https?:/g) ?? []).length < 3
    },
  }),
  quiet('seed-importer', 'Seed Importer', 'Brought the old shop’s articles over, once.', { works: 'once' }),
  quiet('old-gallery', 'Old Gallery', 'Picture galleries, replaced by the slider.', { active: false }),
  quiet('guestbook', 'Guestbook', 'A book for guests.', { active: false }),
  quiet('moon-phase', 'Moon Phase', 'The moon tonight.', { active: false }),
  quiet('ticker', 'Ticker', 'A line of news that runs.', { active: false }),
]
