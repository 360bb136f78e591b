import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import type { Browser } from 'playwright-core'
import { launchBrowser } from '../src/browser/browser.js'
import { readPage } from '../src/browser/read-page.js'
import { DEFAULT_LENS } from '../src/lens/lens-settings.js'
import { failureSentence } from '../src/reading/failure.js'

/** What comes in a page's place is no page, and a failed reading says what came. */
type Answer = [status: number, headers: Record<string, string>, body: string]
const html = (title: string, body: string, head = '') =>
  `<!doctype html><html lang="en"><title>${title}</title>${head}<body><h1>${title}</h1>${body}`
const ANSWERS: Record<string, Answer> = {
  '/gate': [200, {}, html('One moment', '<p>Checking your browser before you go on.</p>')],
  '/refused': [403, {}, html('No', '<p>Please prove that you are human.</p>')],
  '/down': [503, { 'retry-after': '120' }, html('Millpond', '<p>See you later.</p>')],
  '/closed': [200, {}, html('Millpond', '<p>We are down for maintenance.</p>')],
  '/members': [302, { location: '/sign-in?to=%2Fmembers' }, ''],
  '/sign-in': [200, {}, html('Sign in', '<form><input type="password"></form>')],
  '/lost': [200, {}, html('Page not found', '<p>Try the search.</p>')],
  '/mill': [302, { location: '/de/muehle' }, ''],
  '/de/muehle': [200, {}, html('Die Mühle', '<p>Sie steht am Teich.</p>', '<link rel="alternate" hreflang="en" href="/mill"><link rel="alternate" hreflang="de" href="/de/muehle">').replace('lang="en">', 'lang="de">')],
  '/hostile': [200, {}, html('Millpond', `<p>x</p><script>document.querySelectorAll = () => { throw 1 }; Object.defineProperty(document, 'title', { get: () => ({}) })</script>`)],
} // prettier-ignore

let browser: Browser
let server: Server
let origin: string
beforeAll(async () => {
  browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
  server = createServer((request, response) => {
    const [status, headers, body] = ANSWERS[new URL(request.url!, 'http://x').pathname] ?? [204, {}, '']
    response.writeHead(status, { 'content-type': 'text/html; charset=utf-8', ...headers }).end(body)
  })
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done))
  origin = `http://millpond.localhost:${(server.address() as AddressInfo).port}`
})
afterAll(async () => {
  await browser?.close()
  server?.closeAllConnections()
  server?.close()
})

const reason = (path: string) =>
  readPage(browser, { reach: 'anywhere', url: origin + path, lens: DEFAULT_LENS.settings }).then(
    ({ title }) => `read: ${title}`,
    failureSentence,
  )

it.each([
  ['/gate', 'Something else came in the page’s place: a firewall asks the visitor to prove to be human.'],
  ['/refused', 'The page answered 403: a firewall asks the visitor to prove to be human.'],
  ['/down', 'The page answered 503: the site says that it is being maintained.'],
  ['/closed', 'Something else came in the page’s place: the site says that it is being maintained.'],
  ['/members', 'Something else came in the page’s place: the visitor was sent to /sign-in to sign in.'],
  ['/lost', 'Something else came in the page’s place: it says that it is an error (“Page not found”), though its status does not.'],
  ['/mill', 'Something else came in the page’s place: the visitor was sent to its copy in another language (de), /de/muehle.'],
  ['/sign-in', 'read: Sign in'],
  ['/de/muehle', 'read: Die Mühle'],
])('of %s: %s', async (path, sentence) => expect(await reason(path)).toBe(sentence)) // prettier-ignore

it('a page that breaks what it is asked with fails by its own doing', async () =>
  expect(await reason('/hostile')).toMatch(/^The page|^read:/))
