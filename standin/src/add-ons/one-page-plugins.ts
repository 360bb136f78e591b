import { scriptTag } from '../cms/add-on.js'
import { plugin } from '../cms/plugin.js'
import { outside } from '../outsiders/address.js'

/** Used on the booking page, loaded on all of them. Needs the library. */
export const ticketDesk = plugin({
  slug: 'ticket-desk',
  name: 'Ticket Desk',
  version: '7.4.1',
  author: 'Turnstile Works',
  summary: 'Tickets by day and hour.',
  needs: ['rootlib'],
  script: {
    bulk: 118_000,
    code: `rootlib.each('.ticket-desk', function (box) { box.hidden = false; box.querySelector('output').textContent = 'Places left today: ' + (40 - new Date().getHours()); });`,
  },
  style: { bulk: 26_000, code: '.ticket-desk{padding:1rem;border:1px solid #d9d2c1;background:#fff}' },
  async setUp(database) {
    await database.query('create table if not exists ticket_days (day date primary key, places integer not null)')
    await database.query(
      `insert into ticket_days select current_date + g, 40 from generate_series(0, 60) g on conflict do nothing`,
    )
  },
  blocks: {
    async 'ticket-desk'({ database, trace }) {
      const days = await database.query<{ day: Date; places: number }>(
        'select day, places from ticket_days where day >= current_date order by day limit 7',
        [],
        trace,
      )
      const options = days.map(({ day, places }) => `<option>${day.toDateString()} (${places})</option>`)
      return `<form class="ticket-desk" hidden><label>Day <select>${options.join('')}</select></label> <button>Hold tickets</button> <output></output></form>`
    },
  },
})

/** Colours program code: one article has some. */
export const codeColours = plugin({
  slug: 'code-colours',
  name: 'Code Colours',
  version: '4.0.0',
  author: 'Inkwell Tools',
  summary: 'Colours program code in articles.',
  features: ['text', 'web', 'shell', 'tables'].map((slug) => ({ slug, name: `Language pack: ${slug}`, on: true })),
  script: {
    bulk: 84_000,
    code: `document.querySelectorAll('pre.code').forEach(function (pre) { pre.innerHTML = pre.innerHTML.replace(/\\b(filter|map|len|print)\\b/g, '<b>$1</b>'); pre.classList.add('coloured'); });`,
  },
  style: { bulk: 9_000, code: 'pre.code{background:#f1eee4;padding:1rem}pre.coloured b{color:#8a4b12}' },
})

/** A map with pictures from outside, on two pages; its script is on all. Needs the library. */
export const fieldMap = plugin({
  slug: 'field-map',
  name: 'Field Map',
  version: '2.2.0',
  author: 'Waymark',
  summary: 'A map of the garden.',
  needs: ['rootlib'],
  outsideHosts: ['tilecart.localhost'],
  script: {
    bulk: 141_000,
    code: `rootlib.each('.field-map', function (box) {
  for (var n = 0; n < 12; n++) { var tile = new Image(); tile.alt = ''; tile.src = box.dataset.tiles + '/t/' + n + '.svg'; box.append(tile); }
});`,
  },
  style: {
    bulk: 11_000,
    code: '.field-map{display:grid;grid-template-columns:repeat(4,1fr)}.field-map img{width:100%;display:block}',
  },
  blocks: {
    map: async ({ address }) => `<div class="field-map" data-tiles="${outside('tilecart.localhost', address)}"></div>`,
  },
})

/** Proves that who sends the enquiry form is a person: a script from outside on every page, for a form on one. */
export const proofgate = plugin({
  slug: 'proofgate',
  name: 'Proofgate challenge',
  version: '2',
  author: 'Proofgate',
  summary: 'Asks a small question before the enquiry form is sent.',
  kind: 'outside script',
  needs: ['enquiry-form'],
  outsideHosts: ['proofgate.localhost'],
  moreTags: ({ address }) => [scriptTag(`${outside('proofgate.localhost', address)}/challenge.js`, 'head', 'async')],
})
