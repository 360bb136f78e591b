import { GIVING_YEARS } from '../media/giving-years.js'
import { prose } from './prose.js'
import type { SitePage } from './site-page.js'

const simple = (path: string, title: string, picture: number, lead: string, body: string): SitePage => ({
  path,
  title,
  kind: 'page',
  area: 'public',
  lead,
  body,
  picture,
})

/** The rest of the public pages that stand for themselves. */
const SINGLE_PAGES: SitePage[] = [
  simple(
    '/book',
    'Book tickets',
    16,
    'Choose a day; tickets are held for twenty minutes.',
    '[[ticket-desk]]<p>Members need no ticket and no booking.</p>',
  ),
  simple(
    '/accessibility',
    'Accessibility',
    19,
    'Which paths are level, and where to borrow a chair.',
    `${prose(19, 2)}<h2>Level paths</h2><p>The blue posts mark two kilometres without steps.</p>`,
  ),
  {
    ...simple(
      '/donate',
      'Donate',
      22,
      'Every tree here was somebody’s gift.',
      `${prose(22, 2)}[[grove block="appeal" title="A tree for forty years"]][[gift]]<figure data-giving-years><figcaption>Trees planted for gifts</figcaption></figure><script src="${GIVING_YEARS}" defer></script>`,
    ),
    photograph: '/media/planting-day.jpg',
  },
  simple(
    '/newsletter',
    'Newsletter',
    25,
    'Four letters a year, one for each season.',
    `[[grove block="columns" title="What is in it"]]${prose(25, 1)}[[letters]]`,
  ),
  simple('/privacy', 'Privacy', 28, 'What this site keeps, and for how long.', prose(28, 4)),
  simple(
    '/tree-register',
    'The tree register',
    31,
    '4,112 trees with their origin, girth and troubles.',
    '<table class="sortable"><caption>Oldest first</caption><thead><tr><th>Tree</th><th>Planted</th><th>Girth, cm</th></tr></thead><tbody><tr><td>Gatehouse lime</td><td>1887</td><td>612</td></tr><tr><td>River alder</td><td>1902</td><td>288</td></tr><tr><td>Weeping beech</td><td>1894</td><td>471</td></tr></tbody></table>',
  ),
  simple('/articles', 'From the garden', 33, 'Letters, findings and a little gossip.', '[[related limit="12"]]'),
  simple('/shop', 'Seed shop', 36, 'Seed from our own trees, gathered by hand.', '[[shelf]]'),
  { ...simple('/shop/basket', 'Basket', 37, 'What you have chosen so far.', '[[basket]]'), personal: true },
  { ...simple('/shop/checkout', 'Checkout', 38, 'Where shall we send it?', '[[basket]][[checkout]]'), personal: true },
  simple(
    '/archive',
    'Archive',
    39,
    'Every letter from the garden, by season.',
    '<figure><img src="/media/planting-day.jpg" alt="Planting day" width="480" height="320"><img src="/media/first-glasshouse.png" alt="The first glasshouse" width="240" height="160"><img src="/media/gate-in-snow.jpg" alt="The gate in snow" width="480" height="320" loading="lazy"><figcaption>From the albums</figcaption></figure>[[archive]]<p>Letters that are missing here:</p>[[nook-form to="letters"]]',
  ),
  { ...simple('/search', 'Search', 40, 'Look through the whole site.', '[[search]]'), personal: true },
  { ...simple('/sign-in', 'Sign in', 44, 'For members and for the gatehouse.', '[[sign-in]]'), personal: true },
  { ...simple('/thanks', 'Thank you', 45, 'It has arrived.', '[[thanks]]'), personal: true, unlisted: true },
]

const ARTICLES: [string, string, string?][] = [
  ['first-frost', 'The first frost', '[[comments]]'],
  ['the-lime-that-leans', 'The lime that leans', '[[comments]]'],
  ['bats-in-the-boathouse', 'Bats in the boathouse'],
  [
    'counting-rings',
    'Counting rings, with code',
    '<pre class="code" data-language="text">rings = cores.map(width).filter(real)\nprint(len(rings))</pre>',
  ],
  ['a-map-of-smells', 'A map of smells', '[[map]]'],
  ['hazel-year', 'A year of hazel', '[[grove block="timeline" title="Month by month"]]'],
  ['the-wall', 'What you saw: the wall of pictures', '[[wall]]'],
  ['film-the-long-ride', 'A film of the Long Ride', '[[film reel="long-ride"]][[film reel="wet-wood"]]'],
  ['moss-for-beginners', 'Moss for beginners'],
  ['the-registrar', 'A visit to the registrar', '[[grove block="quote" title="I know them by name"]]'],
  ['storm-notes', 'Storm notes', '[[weather from="slow"]]'],
  ['seed-loft', 'In the seed loft'],
  ['the-old-pump', 'The old pump', '[[weather from="down"]]'],
  ['owls', 'Owls, again', '[[weather from="endless"]]'],
  ['path-repairs', 'Paths under repair'],
  ['lichen-walk', 'What lichen tells'],
  ['volunteers', 'Ninety pairs of hands', '[[grove block="faces" title="Some of them"]]'],
  ['the-copper-labels', 'The copper labels'],
  ['river-in-flood', 'The river in flood', '[[river]]'],
  ['winter-reading', 'Winter reading'],
]
const EVENTS: [string, string][] = [
  ['pruning-day', 'Pruning day'],
  ['apple-names', 'A day for apple names'],
  ['owl-night', 'Owl night'],
  ['bark-rubbing', 'Bark rubbing for children'],
  ['members-evening', 'Members’ evening'],
  ['spring-festival', 'Spring festival'],
  ['mushroom-round', 'Mushroom round'],
]
const TREES = [
  'Gatehouse lime',
  'River alder',
  'Weeping beech',
  'Paperbark maple',
  'Wollemi pine',
  'Dawn redwood',
  'Witch hazel',
  'Swamp cypress',
  'Cork oak',
  'Handkerchief tree',
  'Ginkgo of the yard',
  'Monkey puzzle',
]
const SEEDS = ['Hazel, a handful', 'Meadow mix', 'Lime, ten grams', 'Rowan berries, dried', 'Foxglove', 'Alder cones']

const slugOf = (name: string) => name.toLowerCase().replace(/[^a-z0-9]+/g, '-')

export const MORE_PAGES: SitePage[] = [
  ...SINGLE_PAGES,
  ...EVENTS.map(([slug, title], n): SitePage => ({
    ...simple(`/events/${slug}`, title, 50 + n, 'Free for members; please come in good time.', prose(50 + n, 2)),
    kind: 'event',
  })),
  ...ARTICLES.map(([slug, title, extra = ''], n): SitePage => ({
    ...simple(
      `/articles/${slug}`,
      title,
      70 + n,
      `Number ${n + 1} of our letters from the garden.`,
      `${prose(70 + n, 5)}${extra}<h2>Read on</h2>[[related limit="3"]]`,
    ),
    kind: 'article',
  })),
  ...TREES.map((name, n): SitePage => ({
    ...simple(`/trees/${slugOf(name)}`, name, 100 + n, `Number ${217 + n * 91} of the register.`, prose(100 + n, 2)),
    kind: 'tree',
  })),
  ...SEEDS.map((name, n): SitePage => ({
    ...simple(
      `/shop/${slugOf(name)}`,
      name,
      120 + n,
      'Sent in paper, with a note on how to sow.',
      `${prose(120 + n, 1)}[[buy seed="${slugOf(name)}"]]`,
    ),
    kind: 'product',
  })),
]
