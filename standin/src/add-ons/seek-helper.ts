import { scriptTag, styleTag, type AddOn } from '../cms/add-on.js'
import { bulkScript } from '../files/bulk-code.js'
import { shippedFile, shippedWith } from '../files/shipped.js'
import { escapeHtml } from '../http/answer.js'

const SCRIPT = '/add-ons/seek-helper/seek-helper.js'
const STYLE = '/add-ons/seek-helper/seek-helper.css'

/** Proposes search terms. For that it goes through its whole word list, without an index, for every word of every page. */
export const seekHelper: AddOn = {
  manifest: {
    slug: 'seek-helper',
    kind: 'plugin',
    name: 'Seek Helper',
    version: '0.9.7',
    author: 'Burrow & Find',
    summary: 'Search terms that fit the page.',
    features: [{ slug: 'proposals', name: 'Proposals', on: true }],
    needs: [],
    canSkip: true,
  },
  files: [
    { path: SCRIPT, type: 'script', body: shippedWith('seek-helper/seek-helper.js', bulkScript('seek-stems', 19_000)) },
    { path: STYLE, type: 'style', body: shippedFile('seek-helper/seek-helper.css') },
  ],
  tables: ['seek_words'],
  async setUp(database) {
    await database.query('create table if not exists seek_words (word text not null, weight integer not null)')
    const [count] = await database.query<{ n: number }>('select count(*)::int n from seek_words')
    if (count!.n > 0) return
    await database.query(
      `insert into seek_words select md5((g * 7)::text) || ' ' || (array['maple','lime','hazel','walk','garden','spruce','seed'])[1 + g % 7], g % 1000 from generate_series(1, 45000) g`,
    )
  },
  async beforeContent({ page, database, trace, feature }) {
    if (!feature('proposals')) return
    const words = new Set(`${page.title} ${page.lead}`.toLowerCase().match(/[a-z]{4,}/g) ?? [])
    for (const word of [...words].slice(0, 3)) {
      await database.query(
        `select word, weight from seek_words where lower(word) like '%' || $1 || '%' order by weight desc, word limit 3`,
        [word],
        trace,
      )
    }
  },
  tags: () => [styleTag(STYLE), scriptTag(SCRIPT)],
  async afterContent({ page }) {
    if (page.path === '/search') return ''
    return `<form class="seek" action="/search"><input name="q" aria-label="Search" placeholder="Search, for instance ${escapeHtml(page.title.split(' ')[0]!.toLowerCase())}"><button>Search</button><div id="seek-terms" hidden></div></form>`
  },
}
