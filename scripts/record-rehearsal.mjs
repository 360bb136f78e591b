// npm run record-rehearsal: makes the rehearsal of the demo's past again, by the real engine on the real stand-in as it is
// today, and writes it to demo/rehearsal.br. Takes some minutes.
import { saveRehearsal } from './lib/past-rehearsal.mjs'
import { record } from './lib/record.mjs'

const PAGES = ['/contact', '/about']
/** One of two share bars goes, and the form is confined to where it is used. */
const DRAFTS = [
  { addon: 'enquiry-form', effect: 'skip', place: { level: 'area', area: 'public' }, note: 'Used on Contact only.' },
  { addon: 'enquiry-form', effect: 'keep', place: { level: 'page', path: '/contact' } },
  { addon: 'pass-it-on', effect: 'skip', place: { level: 'everywhere' }, note: 'Ribbon Share does the same job.' },
]

await record('rehearsal', async ({ stack, call, site }) => {
  const pages = await call('GET', `/sites/${site.id}/pages`)
  await call('POST', `/sites/${site.id}/drafts`, { rules: DRAFTS })
  const pageIds = pages.filter(({ path }) => PAGES.includes(path)).map(({ id }) => id)
  let { id, state } = await call('POST', `/sites/${site.id}/rehearsals`, { pageIds })
  while (state === 'running') {
    await new Promise((resolve) => setTimeout(resolve, 2_000))
    ;({ state } = await call('GET', `/rehearsals/${id}`))
  }
  const { each } = await call('GET', `/rehearsals/${id}`)
  for (const { path, lens, guards } of each)
    console.log(
      path,
      lens,
      guards.filter(({ outcome }) => outcome === 'fails').map(({ guard }) => guard),
    )
  const first = each.find(({ guards }) =>
    guards.some(({ guard, outcome }) => guard === 'controls' && outcome === 'fails'),
  )
  if (!first) throw new Error('no guard fails, so there is nothing to be accepted')
  await call('POST', `/rehearsals/${id}/accept`, {
    pageId: first.pageId,
    lensId: first.lensId,
    guard: 'controls',
    note: 'Ribbon Share has the same at the edge of the window.',
  })
  await saveRehearsal(stack, id)
})
