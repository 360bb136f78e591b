import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import type { Browser } from 'playwright-core'
import type { GuardLook, Step } from '@unvelt/core'
import { launchBrowser } from '../src/browser/browser.js'
import { readPage } from '../src/browser/read-page.js'
import { FIRST_LENSES } from '../src/lens/lens-settings.js'

const PAGE = `<!doctype html><html lang="en"><title>Ask</title><main><h1>Ask us</h1>
<form action="/send" method="post"><label>Your name <input name="who" value="old"></label>
<label>About <select name="about"><option>Oaks<option>Elms</select></label><button>Send it</button></form>
<form action="/find"><label>Find <input name="q"></label></form><p class="late" hidden>Ready now</p></main>
<script>setTimeout(() => { document.querySelector('.late').hidden = false }, 600)</script></html>`

let browser: Browser
let server: Server
let origin: string
const asked: { method: string; path: string; header: string | undefined; body: string }[] = []
beforeAll(async () => {
  browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
  server = createServer((request, response) => {
    let body = ''
    request.on('data', (piece: Buffer) => (body += piece))
    request.on('end', () => {
      const path = request.url!
      asked.push({
        method: request.method!,
        path,
        header: request.headers['unvelt-measure'] as string | undefined,
        body,
      })
      if (path === '/send') return response.writeHead(303, { location: '/thanks' }).end()
      const text =
        path === '/' ? PAGE : `<!doctype html><title>x</title><h1>${path === '/thanks' ? 'Thank you' : 'Found'}</h1>`
      response.writeHead(200, { 'content-type': 'text/html' }).end(text)
    })
  })
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done))
  origin = `http://ask.localhost:${(server.address() as AddressInfo).port}`
})
afterAll(async () => {
  await browser?.close()
  server?.closeAllConnections()
  server?.close()
})

async function play(steps: Step[]): Promise<GuardLook> {
  asked.length = 0
  let look: GuardLook | null = null
  await readPage(browser, {
    url: `${origin}/`,
    lens: FIRST_LENSES[0]!.settings,
    reach: 'anywhere',
    untimed: true,
    steps,
    onLook: (seen) => void (look = seen),
    onward: (url, method) => `${method} ${url.pathname}`,
  })
  return look!
}
const outcomes = ({ steps }: GuardLook) => steps.map(({ name, outcome, why }) => [name, outcome, why])

const SEND: Step = {
  name: 'send the form',
  sends: true,
  actions: [
    { do: 'type', at: 'role=textbox[name="Your name"]', text: 'Ash' },
    { do: 'choose', at: 'role=combobox[name="About"]', text: 'Elms' },
    { do: 'click', at: 'role=button[name="Send it"]' },
    { do: 'expect', at: 'role=heading[name="Thank you"]' },
  ],
}

it('a form is sent as it was recorded, with the header that takes it back, and the next step is taken on the page again', async () => {
  const look = await play([
    SEND,
    {
      name: 'find',
      actions: [
        { do: 'type', at: '[name=q]', text: 'oak' },
        { do: 'press', at: '[name=q]' },
        { do: 'expect', at: 'h1', text: 'Found' },
      ],
    },
  ])
  expect(outcomes(look)).toEqual([
    ['send the form', 'done', undefined],
    ['find', 'done', undefined],
  ])
  const sent = asked.find(({ method }) => method === 'POST')!
  expect(sent).toMatchObject({ path: '/send', header: 'POST /send', body: 'who=Ash&about=Elms' })
  expect(asked.filter(({ path }) => path === '/thanks')[0]!.header).toBe('GET /thanks')
  expect(asked.filter(({ path }) => path.startsWith('/find'))[0]!.path).toBe('/find?q=oak')
})

it('what an attribute is to say is waited for, of what can be seen, and named where it says something else', async () => {
  const expects = (name: string, at: string, attribute: string, text?: string): Step => ({
    name,
    actions: [{ do: 'expect', at, attribute, ...(text !== undefined && { text }) }],
  })
  const look = await play([
    expects('any', '[name=q]', 'name'),
    expects('just that', '[name=q]', 'name', 'q'),
    expects('other', '[name=q]', 'name', 'qu'),
    expects('none', 'h1', 'aria-expanded'),
  ])
  expect(outcomes(look)).toEqual([
    ['any', 'done', undefined],
    ['just that', 'done', undefined],
    ['other', 'failed', '[name=q] has no name “qu”'],
    ['none', 'failed', 'h1 has no aria-expanded'],
  ])
})

it('what is expected is waited for, and named where it does not come', async () => {
  const look = await play([
    { name: 'late', actions: [{ do: 'expect', at: '.late', text: 'Ready' }] },
    { name: 'never', actions: [{ do: 'expect', at: '.late', text: 'Never' }] },
    { name: 'gone', actions: [{ do: 'click', at: 'role=button[name="Not there"]' }] },
    {
      name: 'half',
      actions: [
        { do: 'click', at: 'h1' },
        { do: 'click', at: '#nowhere' },
      ],
    },
  ])
  expect(outcomes(look)).toEqual([
    ['late', 'done', undefined],
    ['never', 'failed', '“Never” is not seen in .late'],
    ['gone', 'not there', undefined],
    ['half', 'failed', '#nowhere is not there'],
  ])
})
