import { scriptTag, styleTag, type AddOn } from '../cms/add-on.js'
import { bulkScript, bulkStyle } from '../files/bulk-code.js'
import { shippedWith } from '../files/shipped.js'

const SCRIPT = '/add-ons/enquiry-form/enquiry-form.js'
const STYLE = '/add-ons/enquiry-form/enquiry-form.css'

/** A form that stands on one page and is loaded on all of them. */
export const enquiryForm: AddOn = {
  manifest: {
    slug: 'enquiry-form',
    kind: 'plugin',
    name: 'Enquiry Form',
    version: '5.1.3',
    author: 'Plain Post Works',
    summary: 'Forms that visitors fill in.',
    features: [],
    needs: [],
    canSkip: true,
  },
  files: [
    {
      path: SCRIPT,
      type: 'script',
      body: shippedWith('enquiry-form/enquiry-form.js', bulkScript('enquiry-fields', 58_000)),
    },
    { path: STYLE, type: 'style', body: shippedWith('enquiry-form/enquiry-form.css', bulkStyle('enquiry', 14_000)) },
  ],
  tables: ['enquiry_forms', 'enquiry_letters'],
  async setUp(database) {
    await database.query(
      'create table if not exists enquiry_letters (id uuid primary key default gen_random_uuid(), sent_at timestamptz not null default now(), fields jsonb not null)',
    )
    await database.query(
      'create table if not exists enquiry_forms (id integer primary key, name text not null, fields text[] not null)',
    )
    await database.query(
      `insert into enquiry_forms values (1, 'Gatehouse', '{Name,Email,Message}') on conflict do nothing`,
    )
  },
  actions: {
    async '/forms/enquiry'({ form, database, trace, accepts }) {
      const fields = Object.fromEntries(
        ['Name', 'Email', 'Message'].map((name) => [name, form.get(name)?.trim() ?? '']),
      )
      const missing = Object.keys(fields).filter((name) => fields[name] === '')
      if (missing.length > 0) return { refused: `Missing: ${missing.join(', ')}.` }
      if (!(await accepts(fields.Message!))) return { refused: 'This looks like an advertisement.' }
      await database.query('insert into enquiry_letters (fields) values ($1)', [JSON.stringify(fields)], trace)
      return { to: '/thanks?for=letter' }
    },
  },
  tags: () => [styleTag(STYLE), scriptTag(SCRIPT)],
  blocks: {
    async 'enquiry-form'({ database, trace }) {
      const [form] = await database.query<{ fields: string[] }>(
        'select fields from enquiry_forms where id = 1',
        [],
        trace,
      )
      const fields = (form?.fields ?? []).map((name) =>
        name === 'Message'
          ? `<label>${name}<textarea name="${name}" rows="5" required></textarea></label>`
          : `<label>${name}<input name="${name}" ${name === 'Email' ? 'type="email" ' : ''}required></label>`,
      )
      return `<form class="enquiry" method="post" action="/forms/enquiry" hidden>${fields.join('')}<button>Send</button><p role="status"></p></form>`
    },
  },
}
