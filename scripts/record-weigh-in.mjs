// npm run record-weigh-in: makes the weigh-in of the demo's past again, by the real engine on the real stand-in as it is today, and
// writes it to demo/weigh-in.br. Takes some minutes.
import { saveWeighIn } from './lib/past-weigh-in.mjs'
import { record } from './lib/record.mjs'

const PAGES = ['/about', '/articles/owls']
/** Which share bar is worth its weight. */
const VARIANTS = [
  { name: 'Paid edition', price: 49 },
  { name: 'Free edition', versions: [{ addon: 'pass-it-on', version: '3.0.4' }], price: 0 },
  { name: 'Plain Share', without: ['pass-it-on'], versions: [{ addon: 'plain-share', version: '1.2.0' }], price: 0 },
  { name: 'No share bar', without: ['pass-it-on', 'ribbon-share'] },
]

await record('weigh-in', async ({ stack, call, site }) => {
  const pages = await call('GET', `/sites/${site.id}/pages`)
  const found = pages.filter(({ path }) => PAGES.includes(path)).map(({ id }) => id)
  const pageIds = found.length > 0 ? found : pages.slice(0, 1).map(({ id }) => id)
  const wish = { title: 'Which share bar?', pageIds, variants: VARIANTS }
  const { id } = await call('POST', `/sites/${site.id}/weigh-ins`, wish)
  for (;;) {
    const { status, sweep } = await call('GET', `/weigh-ins/${id}`)
    if (status === 'done' && sweep.readingsFailed === 0) break
    if (status !== 'running') throw new Error(`the weigh-in ended ${status}`)
    await new Promise((resolve) => setTimeout(resolve, 2_000))
  }
  await saveWeighIn(stack, id)
})
