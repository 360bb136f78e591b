import type { AddOn } from '../cms/add-on.js'
import { plugin } from '../cms/plugin.js'

/** A bar for passing a page on without a script of its own: the browser's own share sheet, and links where it has none. */
const plainShare = plugin({
  slug: 'plain-share',
  name: 'Plain Share',
  version: '1.2.0',
  author: 'Low Wall Workshop',
  summary: 'Buttons for passing a page on, in one small file.',
  script: {
    bulk: 1_400,
    code: `document.querySelectorAll('.plain-share button').forEach(function (button) { button.onclick = function () { if (navigator.share) navigator.share({ url: location.href }); }; });`,
  },
  style: { bulk: 300, code: '.plain-share{display:flex;gap:.5rem}' },
  afterContent: async () =>
    '<div class="plain-share">Pass this page on: <button>link</button><a href="mailto:?subject=Fernhollow">letter</a></div>',
})

/** Slides by the browser's own scrolling, in the place of a script that moves them. */
const stepSlides = plugin({
  slug: 'step-slides',
  name: 'Step Slides',
  version: '0.9.4',
  author: 'Low Wall Workshop',
  summary: 'Pictures that are scrolled from one to the next.',
  on: ({ page }) => page.body.includes('[[slider]]'),
  style: {
    bulk: 900,
    code: '.step-slides{display:flex;overflow-x:auto;scroll-snap-type:x mandatory}.step-slides figure{flex:0 0 100%;scroll-snap-align:start;margin:0}',
  },
  blocks: {
    slider: async () =>
      `<div class="step-slides" tabindex="0">${[21, 27, 34]
        .map(
          (seed) =>
            `<figure><img src="/media/tree-${seed}.svg" alt="" width="960" height="320" loading="lazy"></figure>`,
        )
        .join('')}</div>`,
  },
})

/** Counts visits on the server, in a table of its own, and writes sums of it by a task. */
const gateTally = plugin({
  slug: 'gate-tally',
  name: 'Gate Tally',
  version: '4.0.2',
  author: 'Turnstile Works',
  summary: 'Counts visits on the server, with a table and a task of its own.',
  tables: ['gate_tally'],
  async setUp(database) {
    await database.query('create table if not exists gate_tally (path text primary key, views bigint not null)')
  },
  async beforeContent({ database, page, trace }) {
    await database.query(
      'insert into gate_tally values ($1, 1) on conflict (path) do update set views = gate_tally.views + 1',
      [page.path],
      trace,
    )
    await database.query('select sum(views) from gate_tally', [], trace)
  },
  tasks: [
    {
      name: 'sums of the gate',
      everySeconds: 3600,
      run: async (database) => void (await database.query('select sum(views) from gate_tally')),
    },
  ],
})

/** What the site's CMS offers and nobody has installed. */
export const SHELF: AddOn[] = [plainShare, stepSlides, gateTally]
