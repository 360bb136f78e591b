import { seeded } from '@unvelt/core'
import { scriptTag, styleTag, type AddOn } from '../cms/add-on.js'
import { bulkScript } from '../files/bulk-code.js'
import { shippedFile, shippedWith } from '../files/shipped.js'
import { escapeHtml } from '../http/answer.js'

const SCRIPT = '/add-ons/walk-almanac/walk-almanac.js'
const STYLE = '/add-ons/walk-almanac/walk-almanac.css'
const THEMES = ['Trees in leaf', 'Bark and bud', 'The wet wood', 'Old limes', 'Conifers of the slope', 'Birds at dusk']

interface Walk {
  id: number
  title: string
  starts_at: Date
  places: number
}

/** A calendar of guided walks. It asks for the free places of each walk one by one, as such calendars do. */
export const walkAlmanac: AddOn = {
  manifest: {
    slug: 'walk-almanac',
    kind: 'plugin',
    name: 'Walk Almanac',
    version: '1.9.0',
    author: 'Ninefold Timetables',
    summary: 'Guided walks with dates and free places.',
    features: [{ slug: 'few-places', name: 'Mark walks that are nearly full', on: true }],
    settings: [{ slug: 'most-walks', name: 'Walks in a list, at most', value: 10, least: 1, most: 50, perPage: true }],
    needs: [],
    canSkip: true,
  },
  files: [
    {
      path: SCRIPT,
      type: 'script',
      body: shippedWith('walk-almanac/walk-almanac.js', bulkScript('almanac-calendar', 34_000)),
    },
    { path: STYLE, type: 'style', body: shippedFile('walk-almanac/walk-almanac.css') },
  ],
  tables: ['almanac_walks', 'almanac_bookings'],
  async setUp(database) {
    await database.query(
      'create table if not exists almanac_walks (id integer primary key, title text not null, starts_at timestamptz not null, places integer not null)',
    )
    await database.query(
      'create table if not exists almanac_bookings (walk_id integer not null, party integer not null)',
    )
    const [count] = await database.query<{ n: number }>('select count(*)::int n from almanac_walks')
    if (count!.n > 0) return
    const random = seeded(Number(process.env.STANDIN_SEED ?? 1887))
    for (let id = 1; id <= 400; id++) {
      const title = `${THEMES[Math.floor(random() * THEMES.length)]}, walk ${id}`
      await database.query(
        `insert into almanac_walks values ($1, $2, date_trunc('day', now()) + make_interval(days => $3, hours => 10), 12)`,
        [id, title, Math.floor(id / 3) - 20],
      )
    }
    await database.query(
      `insert into almanac_bookings select (g * 7919 % 400) + 1, 1 + g % 3 from generate_series(1, 20000) g where g % 13 < 4`,
    )
  },
  async beforeContent({ database, trace }) {
    // The almanac keeps its marks fresh on every page, shown or not.
    await database.query(
      `select date_trunc('month', starts_at) m, count(*) from almanac_walks left join almanac_bookings on walk_id = id group by 1`,
      [],
      trace,
    )
  },
  tags: () => [styleTag(STYLE), scriptTag(SCRIPT)],
  blocks: {
    async walks({ database, trace, feature, setting }, { limit }) {
      const walks = await database.query<Walk>(
        'select * from almanac_walks where starts_at > now() order by starts_at limit $1',
        [Math.min(Number(limit ?? 5), setting('most-walks'))],
        trace,
      )
      const rows = []
      for (const walk of walks) {
        const [booked] = await database.query<{ n: number }>(
          'select coalesce(sum(party), 0)::int n from almanac_bookings where walk_id = $1',
          [walk.id],
          trace,
        )
        const left = Math.max(0, walk.places - (booked!.n % 13))
        const day = walk.starts_at.toLocaleDateString('en-GB', {
          weekday: 'long',
          day: 'numeric',
          month: 'long',
          timeZone: 'UTC',
        })
        rows.push(
          `<tr${feature('few-places') ? ` data-places="${left}"` : ''}><td>${day}</td><td>${escapeHtml(walk.title)}</td><td>${left} free</td></tr>`,
        )
      }
      return `<table class="almanac"><thead><tr><th>Day</th><th>Walk</th><th>Places</th></tr></thead><tbody>${rows.join('')}</tbody></table>`
    },
  },
}
