/** What the arboretum's people, all of them invented, have said and decided so far. */
const SHE = 'Wren Alder'
const VERDICTS = [
  ['ticket-desk', 'keep', 'Half of all visitors book here.'],
  ['seed-shop', 'confine', 'Only the shop needs it.'],
  ['walk-almanac', 'keep', 'The walks change every week.'],
  ['nightly-copy', 'keep', 'The only backup there is.'],
  ['weed-filter', 'keep', 'Without it the comments fill up in a day.'],
  ['larder', 'keep', 'The page cache.'],
  ['loam-office', 'keep', 'The editors work in it.'],
  ['page-parts', 'keep', 'Search and archive.'],
  ['comments', 'keep', 'Readers write a lot under some articles.'],
  ['picture-wall', 'ask', 'Does the education team still look after it?'],
]
const ABOUT = [
  ['ticket-desk', { owner: 'Front desk', purpose: 'Tickets by day and hour', worth: 'About 60 bookings a day' }],
  ['festival-programme', { owner: 'Events team', purpose: 'The spring festival' }],
  ['heronmark', { owner: 'Hazel Marsh', purpose: 'Visitor figures for the yearly report' }],
]
const QUESTIONS = [['picture-wall', 'Does anybody still put pictures on the wall?', 'the education team']]
/** How often visitors touched these in thirty days, by page. */
const TOUCHES = [
  ['garden-badge', '/', 0],
  ['garden-badge', '/visit', 0],
  ['ribbon-share', '/', 2],
  ['pass-it-on', '/', 31],
]

/** Says it all through the API, as a maintainer would. */
export async function sayPast(site, call) {
  const at = (slug) => `/sites/${site}/add-ons/${slug}`
  for (const [slug, verdict, why] of VERDICTS) await call('POST', `${at(slug)}/verdicts`, { verdict, why, who: SHE })
  for (const [slug, about] of ABOUT) await call('PATCH', at(slug), about)
  for (const [slug, asks, whom] of QUESTIONS) await call('POST', `${at(slug)}/questions`, { asks, whom })
  const pages = await call('GET', `/sites/${site}/pages`)
  const festival = pages.filter(({ path }) => path.includes('festival')).map(({ id }) => id)
  if (festival.length > 0)
    await call('POST', `${at('festival-programme')}/use`, {
      word: 'planned',
      pageIds: festival,
      because: 'The festival is next month.',
      who: SHE,
    })
  const known = new Set(pages.map(({ path }) => path))
  const lines = TOUCHES.filter(([, page]) => known.has(page)).map(([slug, page, n]) => `${page},${slug},${n}`)
  await call('POST', `/sites/${site}/touches`, ['page,addon,touches', ...lines].join('\n'))
}
