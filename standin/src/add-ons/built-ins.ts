import { styleTag } from '../cms/add-on.js'
import { plugin } from '../cms/plugin.js'
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
    async setUp(database) {
      await database.query('create table if not exists comments (id integer primary key, author text, words text)')
      await database.query(
        `insert into comments select g, 'Reader ' || g, 'I remember that tree, and the year ' || (1950 + g % 70) || '.' from generate_series(1, 140) g on conflict do nothing`,
      )
    },
    blocks: {
      async comments({ database, trace, address }) {
        const rows = await database.query<{ id: number; author: string; words: string }>(
          'select * from comments order by id',
          [],
          trace,
        )
        const face = (id: number) => `${outside('manyfaces.localhost', address)}/face/${id}.svg`
        return `<ol class="comments">${rows.map(({ id, author, words }) => `<li><img src="${face(id)}" alt="" width="32" height="32"> <b>${author}</b>: ${words}</li>`).join('')}</ol>`
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

const quiet = (slug: string, name: string, summary: string, active = true) =>
  plugin({ slug, name, version: '2.1.0', author: 'Cellar Works', summary, active })

/** Add-ons that show nothing on any page: some work unseen, one worked once, four are switched off. */
export const unseen = [
  quiet('nightly-copy', 'Nightly Copy', 'Makes a backup every night.'),
  quiet('weed-filter', 'Weed Filter', 'Keeps spam out of the comments.'),
  quiet('seed-importer', 'Seed Importer', 'Brought the old shop’s articles over, once.'),
  quiet('old-gallery', 'Old Gallery', 'Picture galleries, replaced by the slider.', false),
  quiet('guestbook', 'Guestbook', 'A book for guests.', false),
  quiet('moon-phase', 'Moon Phase', 'The moon tonight.', false),
  quiet('ticker', 'Ticker', 'A line of news that runs.', false),
]
