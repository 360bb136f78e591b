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
  delivered: true,
  tables: ['ticket_days', 'ticket_bookings'],
  script: {
    bulk: 118_000,
    code: `rootlib.each('.ticket-desk', function (box) { box.hidden = false; box.querySelector('output').textContent = 'Places left today: ' + (40 - new Date().getHours()); });`,
  },
  style: { bulk: 26_000, code: '.ticket-desk{padding:1rem;border:1px solid #d9d2c1;background:#fff}' },
  async setUp(database) {
    await database.query('create table if not exists ticket_days (day date primary key, places integer not null)')
    await database.query(
      'create table if not exists ticket_bookings (id uuid primary key default gen_random_uuid(), day date not null, party integer not null)',
    )
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
      const options = days.map(
        ({ day, places }) => `<option value="${isoDay(day)}">${day.toDateString()} (${places} places)</option>`,
      )
      return `<form class="ticket-desk" method="post" action="/forms/tickets" hidden><label>Day <select name="day">${options.join('')}</select></label> <label>People <input name="party" type="number" min="1" max="12" value="2"></label> <button>Hold tickets</button> <output></output></form>`
    },
  },
  actions: {
    async '/forms/tickets'({ form, database, trace }) {
      const day = form.get('day') ?? ''
      const party = Number(form.get('party'))
      if (!/^\d{4}-\d{2}-\d{2}$/.test(day) || !Number.isInteger(party) || party < 1 || party > 12)
        return { refused: 'Expected a day and 1 to 12 people.' }
      const [left] = await database.query(
        'update ticket_days set places = places - $2 where day = $1 and places >= $2 returning places',
        [day, party],
        trace,
      )
      if (!left) return { refused: 'There are not so many places left on that day.' }
      await database.query('insert into ticket_bookings (day, party) values ($1, $2)', [day, party], trace)
      return { to: '/thanks?for=tickets' }
    },
  },
})

/** The day as the calendar on the wall has it; the database hands out local midnight. */
const isoDay = (day: Date) =>
  [day.getFullYear(), String(day.getMonth() + 1).padStart(2, '0'), String(day.getDate()).padStart(2, '0')].join('-')

/** A map with pictures from outside, on two pages; its script is on all. Needs the library. */
export const fieldMap = plugin({
  slug: 'field-map',
  name: 'Field Map',
  version: '2.2.0',
  author: 'Waymark',
  summary: 'A map of the garden.',
  needs: ['rootlib'],
  delivered: true,
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
