// npm run record-deployments: makes the changes of rules of the demo's past again, by the real engine on the real stand-in as it
// is today, and writes them to demo/deployments.br. Takes about a quarter of an hour.
import { saveDeployments } from './lib/past-deployments.mjs'
import { record } from './lib/record.mjs'

const onKind = (kind) => ({ level: 'kind', kind })
const onPage = (path) => ({ level: 'page', path })
/** One that gains something, one that breaks a page, and one of which nothing is to be seen. */
const CHANGES = [
  { rules: [{ addon: 'enquiry-form', effect: 'skip', place: onKind('product'), note: 'The form is on Contact.' }] },
  {
    unrehearsed: 'It looked harmless.',
    breaks: true,
    rules: [
      { addon: 'rootlib', effect: 'leave-out', place: onPage('/about'), note: 'Is it still needed?' },
      { addon: 'ribbon-share', effect: 'skip', place: onPage('/about') },
      { addon: 'river-level', effect: 'skip', place: onPage('/about') },
    ],
  },
  {
    rules: [
      {
        addon: 'letterloft-fonts',
        effect: 'hint',
        place: { level: 'path', pattern: '/trees/w*' },
        note: 'Fonts earlier?',
      },
    ],
  },
]
/** Nothing of it is live today, so that whoever tries the demo begins with a clean slate. */
const LAST = {
  readAgain: 'none',
  net: 'off',
  unrehearsed: 'Back to how it was, before the season begins.',
  rules: CHANGES.filter(({ breaks }) => !breaks).flatMap(({ rules }) =>
    rules.map((rule) => ({ ...rule, removed: true })),
  ),
}

await record('deployments', async ({ stack, call, site }) => {
  const changes = []
  for (const change of [...CHANGES, LAST]) changes.push(await carryOut(call, site.id, change))
  await saveDeployments(stack, changes)
})

/** Puts drafts live and waits for all that comes of it: guards, the search for what broke them, the proof. */
async function carryOut(
  call,
  site,
  { rules, readAgain = 'sample', net = 'take-back', unrehearsed = 'Tried on the copy.', breaks = false },
) {
  const until = async (what, look) => {
    for (let n = 0; n < 900; n++) {
      const found = await look()
      if (found) return found
      await new Promise((resolve) => setTimeout(resolve, 2_000))
    }
    throw new Error(`${what} came to no end`)
  }
  await call('POST', `/sites/${site}/drafts`, { rules })
  const { id } = await call('POST', `/sites/${site}/rules/put-live`, { readAgain, net, unrehearsed })
  const done = await until('the change', async () => {
    const now = await call('GET', `/deployments/${id}`)
    return now.finishedAt && now
  })
  console.log(done.what, done.state, done.failure ?? '')
  if (done.state !== (breaks ? 'taken-back' : 'live')) throw new Error(`it ended ${done.state}`)
  if (breaks) {
    const searches = await until('the search', async () => {
      const { searches: now = [] } = await call('GET', `/rehearsals/${done.netId}`)
      return now.length > 0 && now.every(({ state }) => state !== 'running') && now
    })
    console.log(JSON.stringify(searches.map(({ state, culprits }) => [state, culprits])))
    // What goes on from there is not part of this past.
    for (const { id: other, state } of await call('GET', `/sites/${site}/rehearsals`))
      if (state === 'running') await call('POST', `/rehearsals/${other}/stop`)
    await call('DELETE', `/sites/${site}/drafts`)
  } else if (done.proofId !== null)
    await until('the proof', async () => (await call('GET', `/proofs/${done.proofId}`)).sweep?.status === 'done')
  return id
}
