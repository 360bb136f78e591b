import { plugin } from '../cms/plugin.js'
import { outside } from '../outsiders/address.js'
import { escapeHtml } from '../http/answer.js'

/** Code that somebody pasted into a box for the head of every page. The box is an add-on; what is in it is from outside. */
export const headRoom = plugin({
  slug: 'head-room',
  name: 'Head Room',
  version: '1.3.0',
  author: 'Handrail Collective',
  summary: 'A box for code in the head of every page.',
  insertedBy: 'an injected header',
  outsideHosts: ['gale.localhost'],
  tables: ['head_room_boxes'],
  async setUp(database) {
    await database.query('create table if not exists head_room_boxes (id integer primary key, code text not null)')
    await database.query(
      `insert into head_room_boxes values (1, '<script defer src="{origin}/wind.js?place=fernhollow"></script>') on conflict do nothing`,
    )
  },
  async beforeContent({ database, trace }) {
    await database.query('select code from head_room_boxes order by id', [], trace)
  },
  moreTags: ({ address }) => {
    const src = `${outside('gale.localhost', address)}/wind.js?place=fernhollow`
    return [{ where: 'head', src, html: `<script defer src="${src}"></script>` }]
  },
})

const SOURCES: Record<string, string> = {
  slow: 'molasses.localhost/report.js',
  down: 'gonehost.localhost/report.js',
  endless: 'brook.localhost/report.txt',
}

/** A report of the weather from one of three services, each troublesome in its own way. */
export const skyReports = plugin({
  slug: 'sky-reports',
  name: 'Sky Reports',
  version: '0.9.0',
  author: 'Gauge House',
  kind: 'widget',
  summary: 'The weather in articles.',
  inlineIds: ['sky-reports-asks'],
  outsideHosts: ['molasses.localhost', 'gonehost.localhost', 'brook.localhost'],
  blocks: {
    weather: async ({ address }, { from = 'slow' }) => {
      const [host = '', path = ''] = (SOURCES[from] ?? SOURCES.slow!).split('/')
      // The third service is asked by code, since a script tag that never ends would keep the load event away for ever.
      if (from === 'endless')
        return `<p class="sky-report">The report is still coming.</p><script id="sky-reports-asks">fetch('${outside(host, address)}/${path}').then(function (r) { return r.text(); }).then(function (t) { document.querySelector('.sky-report').textContent = t; });</script>`
      return `<p class="sky-report" data-from="${escapeHtml(from)}">The report has not come yet.</p><script async src="${outside(host, address)}/${path}"></script>`
    },
  },
})
