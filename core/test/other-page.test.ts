import fc from 'fast-check'
import { otherPage, type PageSigns } from '../src/index.js'

const PAGE: PageSigns = {
  status: 200,
  headers: { 'content-type': 'text/html' },
  asked: '/trees/rowan',
  arrived: '/trees/rowan',
  title: 'Rowan – Millpond Society',
  texts: ['Rowan', 'It stands by the gate.'],
  textLength: 4_000,
  language: 'en',
  copies: [],
  asksPassword: false,
  loads: ['https://millpond.test/app.js'],
}
const of = (more: Partial<PageSigns>) => otherPage({ ...PAGE, textLength: 300, ...more })

it.each<[string, Partial<PageSigns>]>([
  ['by its words', { title: 'One moment …', texts: ['Checking your browser before you go on'] }],
  ['by its words in another language', { texts: ['Bitte bestätigen Sie: kein Roboter'] }],
  ['by a header of whoever stands before the site', { headers: { 'edge-mitigated': 'challenge' } }],
  ['by what a refused page loads', { status: 403, loads: ['https://proof.test/captcha/api.js'] }],
])('a firewall’s challenge is known %s', (_, more) => expect(of(more)).toBe('challenge'))

it.each<[string, Partial<PageSigns>]>([
  ['by status and Retry-After', { status: 503, headers: { 'retry-after': '600' } }],
  ['by its words with status 200', { title: 'Millpond', texts: ['Down for scheduled maintenance'] }],
  ['by its words in another language', { title: 'Wartungsarbeiten' }],
])('a maintenance notice is known %s', (_, more) => expect(of(more)).toBe('maintenance'))

it.each<[string, Partial<PageSigns>]>([
  ['by where it sent the visitor', { arrived: '/account/log-in', asksPassword: true }],
  ['by where it would go on to', { arrived: '/welcome?back=%2Ftrees%2Frowan', asksPassword: true }],
])('a log-in in a page’s place is known %s', (_, more) => expect(of(more)).toBe('log-in'))

it.each(['404 – Millpond', 'Page not found', 'Error 500', 'Seite nicht gefunden', 'Bad Gateway'])(
  'an error that comes with status 200 is known by its title: %s',
  (title) => expect(of({ title })).toBe('error'),
)

it('another language’s copy is known by what it says of the page that was asked for', () => {
  const copies = [
    { language: 'en', path: '/trees/rowan' },
    { language: 'de-AT', path: '/de/baeume/eberesche' },
  ]
  expect(of({ arrived: '/de/baeume/eberesche', language: 'de', copies })).toBe('other-language')
  // Asked for itself it is the page that was meant.
  expect(of({ asked: '/de/baeume/eberesche', arrived: '/de/baeume/eberesche', language: 'de', copies })).toBeNull()
  // It has moved, and speaks as it did.
  expect(of({ arrived: '/trees/rowan-tree', language: 'en-GB', copies })).toBeNull()
})

it.each<[string, Partial<PageSigns>]>([
  ['a long page that tells of maintenance', { title: 'Maintenance mode, and how we plan it', textLength: 9_000 }],
  ['a short page about a number', { title: '404 trees planted', asked: '/news/404-trees', arrived: '/news/404-trees' }],
  [
    'the page on which people sign in',
    { asked: '/sign-in', arrived: '/sign-in', asksPassword: true, title: 'Sign in' },
  ],
  ['a page with a form for members at its side', { asksPassword: true }],
  ['a page that has moved', { arrived: '/trees/mountain-ash' }],
  ['a short page of a robot museum', { texts: ['Our robots', 'They are robots, and you may talk to them.'] }],
  ['the maintenance of paths', { title: 'Maintenance of our paths', texts: ['Maintenance of our paths'] }],
])('%s is the page that it is', (_, more) => expect(of(more)).toBeNull())

it('long texts of any kind are nobody’s notice, and nothing that a page says breaks it', () => {
  fc.assert(
    fc.property(fc.string(), fc.array(fc.string(), { maxLength: 5 }), fc.webPath(), (title, texts, path) => {
      expect(otherPage({ ...PAGE, title, texts, asked: path, arrived: path })).toBeNull()
    }),
  )
})
