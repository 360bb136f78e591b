import { createHmac } from 'node:crypto'
import { KEY, measuring, standinForTest } from './standin-client.js'

let site: Awaited<ReturnType<typeof standinForTest>>
beforeAll(async () => void (site = await standinForTest()))
afterAll(() => site?.stop())

interface Action {
  name: string
  method: 'GET' | 'POST'
  path: string
  form?: Record<string, string>
  as?: string
}

function trial(path: string, role: string): Record<string, string> {
  const expires = Math.floor(Date.now() / 1000) + 60
  const signature = createHmac('sha256', KEY).update(`${expires}\n${path}\ntrial=${role}`).digest('hex')
  return { 'unvelt-measure': `expires=${expires}, signature=${signature}, rules=live, cache=bypass, trial=${role}` }
}

const actions = async () => ((await site.connector('GET', '/actions')).json() as { actions: Action[] }).actions

it('every action on offer is carried out as for real, and nothing of it stays', async () => {
  const offered = await actions()
  expect(offered.map(({ name }) => name)).toEqual([
    'search',
    'post a comment',
    'send the enquiry form',
    'add to basket',
    'save in the editor',
  ])
  const comments = async () =>
    /<ol class="comments">.*<\/ol>/s.exec(
      (await site.get('/articles/first-frost', measuring('/articles/first-frost'))).text,
    )?.[0]
  const before = await comments()
  expect(before).toContain('<li>')
  for (const { method, path, form = {}, as = 'visitor' } of offered) {
    const answer =
      method === 'GET' ? await site.get(path, measuring(path)) : await site.post(path, form, trial(path, as))
    expect([path, answer.status]).toEqual([path, method === 'GET' ? 200 : 303])
    expect(String(answer.headers['server-timing'])).toMatch(/^total;dur=[\d.]+.*addon\./)
  }
  expect(await comments()).toBe(before)
})

it('a save that is tried shows nowhere, neither at once nor when the site starts anew', async () => {
  const { form } = (await actions()).find(({ name }) => name === 'save in the editor')!
  const words = { ...form!, lead: 'Words that nobody meant.' }
  expect((await site.post('/office/editor', words, trial('/office/editor', 'editor'))).status).toBe(303)
  expect((await site.get(form!.path!)).text).not.toContain('Words that nobody meant')
  const { id } = (await site.connector('POST', '/snapshots', { name: 'now' })).json() as { id: number }
  await site.connector('POST', `/snapshots/${id}/restore`)
  expect((await site.get(form!.path!, measuring(form!.path!))).text).not.toContain('Words that nobody meant')
})

it('a signed header is good for what it was signed for only: no trial is made of it, and no role', async () => {
  const { form } = (await actions()).find(({ name }) => name === 'save in the editor')!
  const header = measuring('/office/editor')['unvelt-measure']!
  expect((await site.post('/office/editor', form!, { 'unvelt-measure': `${header}, trial=editor` })).status).toBe(403)
  const visitors = trial('/office/editor', 'visitor')['unvelt-measure']!
  const forged = visitors.replace('trial=visitor', 'trial=editor')
  expect((await site.post('/office/editor', form!, { 'unvelt-measure': forged })).status).toBe(403)
  expect((await site.post('/office/editor', form!, { 'unvelt-measure': visitors })).status).toBe(403)
})

it('a trial that a real form does not pass is refused the same way', async () => {
  const refused = await site.post(
    '/forms/comment',
    { author: 'A trial', words: 'casino' },
    trial('/forms/comment', 'visitor'),
  )
  expect(refused.status).toBe(422)
})
