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
  async setUp(database) {
    await database.query(
      'create table if not exists enquiry_forms (id integer primary key, name text not null, fields text[] not null)',
    )
    await database.query(
      `insert into enquiry_forms values (1, 'Gatehouse', '{Name,Email,Message}') on conflict do nothing`,
    )
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
      return `<form class="enquiry" hidden>${fields.join('')}<button>Send</button><p role="status"></p></form>`
    },
  },
}
