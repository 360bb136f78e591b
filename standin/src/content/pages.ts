import { MORE_PAGES } from './more-pages.js'
import { MEMBERS_PAGES, OFFICE_PAGES } from './office-pages.js'
import type { SitePage } from './site-page.js'

const page = (path: string, title: string, picture: number, lead: string, body: string): SitePage => ({
  path,
  title,
  kind: 'page',
  area: 'public',
  lead,
  body,
  picture,
})

const event = (slug: string, title: string, picture: number, lead: string, body: string): SitePage => ({
  ...page(`/events/${slug}`, title, picture, lead, body),
  kind: 'event',
})

const FIRST_PAGES: SitePage[] = [
  page(
    '/',
    'Fernhollow Arboretum',
    3,
    'Sixty hectares of trees from five continents, a short walk from the river.',
    `[[slider]]
<h2>This week in the garden</h2>
<p>The maples along the Long Ride have turned, and the witch hazels by the gatehouse are opening early. The lower path is soft after the rain: boots are a good idea.</p>
<h2>Next guided walks</h2>
[[walks limit="4"]]
<h2>A garden of lessons</h2>
<p>Every tree here carries a number, a name and a story. Begin at the gatehouse, follow the blue posts, and take two hours for it.</p>`,
  ),
  page(
    '/opening-hours',
    'Opening hours',
    5,
    'Open every day but the last Monday of January.',
    `<table><caption>Hours by season</caption><thead><tr><th>Season</th><th>Gates</th><th>Glasshouse</th></tr></thead><tbody>
<tr><td>March to May</td><td>9.00 – 18.00</td><td>10.00 – 17.00</td></tr>
<tr><td>June to August</td><td>8.00 – 20.00</td><td>10.00 – 18.00</td></tr>
<tr><td>September to November</td><td>9.00 – 17.00</td><td>10.00 – 16.00</td></tr>
<tr><td>December to February</td><td>10.00 – 16.00</td><td>10.00 – 15.00</td></tr></tbody></table>
<p>Last entry is an hour before the gates close. In high wind the pine slope stays shut.</p>`,
  ),
  page(
    '/plan-a-visit',
    'Plan a visit',
    8,
    'How to get here, what it costs, and where to begin.',
    `<h2>Getting here</h2><p>The river bus stops at Hollow Landing, ten minutes on foot. There are forty spaces for cars and as many for bicycles.</p>
<h2>Tickets</h2><p>Adults 9, children 4, members free. Guided walks are included; places are few, so look at the almanac first.</p>
<h2>Walks in the coming weeks</h2>[[walks limit="10"]]`,
  ),
  page(
    '/about',
    'About the arboretum',
    11,
    'Planted from 1887 on a worn-out sheep farm, and never finished.',
    `<p>Three generations of gardeners have kept the register going: 4,112 trees, each with its origin, its girth and its troubles. The collection of limes is the largest on the river.</p>
<h2>Who keeps it</h2><p>Eleven gardeners, two foresters, a registrar and some ninety volunteers. The garden belongs to a trust of the town.</p>`,
  ),
  page(
    '/contact',
    'Contact',
    14,
    'Write to the gatehouse; somebody answers within two working days.',
    `[[enquiry-form]]<h2>By post</h2><p>The Gatehouse, Fernhollow Arboretum, Hollow Lane.</p>`,
  ),
  event(
    'lantern-evening',
    'Lantern evening',
    6,
    'The Long Ride lit by four hundred paper lanterns.',
    `<p>Gates open at dusk. Warm drinks by the boathouse, and the choir of the upper school at seven.</p><h2>Other dates</h2>[[walks limit="3"]]`,
  ),
  event(
    'seed-swap',
    'Seed swap',
    9,
    'Bring what you saved, take what you lack.',
    `<p>Tables for vegetables, meadow flowers and trees. Please write name, place and year on every packet.</p>`,
  ),
  event(
    'dawn-chorus',
    'Dawn chorus walk',
    12,
    'Two slow hours with the birds of the wet wood.',
    `<p>We meet at half past four at the lower gate. No dogs, no torches, and something warm to sit on.</p>`,
  ),
]

const CHANGED_LAST = Date.UTC(2026, 10, 20)

function dayBefore(day: number, days: number): string {
  return new Date(day - days * 86_400_000).toISOString().slice(0, 10)
}

/** All pages, in the order in which the CMS lists them. */
export const PAGES: SitePage[] = [...FIRST_PAGES, ...MORE_PAGES, ...MEMBERS_PAGES, ...OFFICE_PAGES].map((p, n) => ({
  modified: dayBefore(CHANGED_LAST, n * 9 + ((n * 37) % 11)),
  ...p,
}))

/** How many of them the connector names: all, or the first few where a small site is wanted. */
export const listedPages = (most = Number(process.env.STANDIN_PAGES ?? Infinity)): SitePage[] =>
  PAGES.filter((p) => !p.unlisted).slice(0, most)

/** Pages in the main menu, in order. */
export const MENU = ['/', '/plan-a-visit', '/book', '/tree-register', '/articles', '/shop', '/about', '/contact']
