import {
  attribute,
  NO_SOURCES,
  registrableDomain,
  withKnownCallers,
  type AttributionSources,
  type RequestRecord,
} from '../src/index.js'
import { reading, record } from './reading-arbitrary.js'

const page = record('page', { url: 'https://site.test/', type: 'document' })
const sources: AttributionSources = {
  ...NO_SOURCES,
  ownHosts: ['site.test'],
  register: { '/glue/all.js': 'slider', '/lib.js': 'lib' },
  prefixes: [
    { prefix: '/add-ons/', addon: 'common' },
    { prefix: '/add-ons/form/', addon: 'form' },
  ],
  patterns: [{ pattern: '/uploads/*.js', addon: 'pasted' }],
  inline: [{ elementId: 'greeting', addon: 'snippet' }],
  outsiders: { 'counter.test': 'visits' },
  folders: [{ prefix: '/media/', payer: 'content' }],
}
const charge = (requests: RequestRecord[], id: string, part = {}) =>
  attribute(reading([page, ...requests], part), sources).requests.get(id)

describe('who pays', () => {
  it.each([
    ['the register before the folder', '/glue/all.js', 'slider', 'register'],
    ['the longest folder', '/add-ons/form/form.js?v=2', 'form', 'prefix'],
    ['the maintainer’s pattern', '/uploads/old.js', 'pasted', 'pattern'],
    ['the content’s folder', '/media/tree.svg', 'content', 'folder'],
    ['nobody, and says so', '/else.js', 'unassigned', 'unassigned'],
  ])('is told by %s', (_, path, payer, evidence) => {
    expect(charge([record('r', { url: `https://site.test${path}` })], 'r')).toMatchObject({ payer, evidence })
  })

  it('is an outsider by registrable domain, known or not', () => {
    const known = record('r', { url: 'https://cdn.counter.test/c.js' })
    const stranger = record('s', { url: 'https://a.b.stranger.co.uk/x.js' })
    expect(charge([known, stranger], 'r')).toMatchObject({
      payer: 'visits',
      evidence: 'outsider',
      because: 'counter.test',
    })
    expect(charge([known, stranger], 's')).toMatchObject({ payer: 'outside:stranger.co.uk' })
  })

  it('is whoever brought it in, through redirects, scripts and styles of any depth', () => {
    const chain = [
      record('tag', { url: 'https://count.counter.test/m.js', status: 302 }),
      record('real', { url: 'https://cdn.else.test/m3.js', redirectedFrom: 'tag', initiator: { type: 'redirect' } }),
      record('frame', {
        url: 'https://sync.partner.test/f',
        type: 'frame',
        initiator: byScript('https://cdn.else.test/m3.js'),
      }),
      record('style', {
        url: 'https://fonts.far.test/f.css',
        type: 'style',
        initiator: { type: 'parser', url: 'https://sync.partner.test/f' },
      }),
      record('font', {
        url: 'https://fonts.far.test/f.woff2',
        type: 'font',
        initiator: { type: 'parser', url: 'https://fonts.far.test/f.css' },
      }),
    ]
    for (const { id } of chain) expect(charge(chain, id)?.payer).toBe('visits')
    expect(charge(chain, 'font')).toMatchObject({ evidence: 'initiator', because: 'https://fonts.far.test/f.css' })
  })

  it('is the inline code that asked, told apart by its lines', () => {
    const inlineCode = [
      { type: 'script' as const, elementId: 'other', hash: '1', bytes: 10, startLine: 3, endLine: 5 },
      { type: 'script' as const, elementId: 'greeting', hash: '2', bytes: 10, startLine: 8, endLine: 12 },
    ]
    const at = (line: number) =>
      record('r', { url: 'https://site.test/words.js', initiator: byScript('https://site.test/', line) })
    expect(charge([at(9)], 'r', { inlineCode })).toMatchObject({ payer: 'snippet', evidence: 'inline' })
    expect(charge([at(4)], 'r', { inlineCode })).toMatchObject({ payer: 'unassigned' })
  })

  it('survives a chain that bites its own tail', () => {
    const loop = [
      record('a', { url: 'https://site.test/a.js', initiator: byScript('https://site.test/b.js') }),
      record('b', { url: 'https://site.test/b.js', initiator: byScript('https://site.test/a.js') }),
    ]
    expect(charge(loop, 'a')).toMatchObject({ payer: 'unassigned' })
  })

  it('takes names like constructor for what they are: unknown', () => {
    const odd = record('r', { url: 'https://site.test/constructor' })
    expect(charge([odd], 'r')).toMatchObject({ payer: 'unassigned' })
  })
})

describe('who pays on a site that tells nothing', () => {
  const silent = { ...sources, register: {}, prefixes: [], inline: [], folders: [], byOwnFolders: true }
  const payer = (part: Partial<RequestRecord>) =>
    attribute(reading([page, record('r', part)]), silent).requests.get('r')!.payer

  it.each([
    ['script', 'https://site.test/plugins/tour/js/tour.js', 'own:/plugins/tour/'],
    ['style', 'https://site.test/tour.css', 'own:/tour.css'],
    ['picture', 'https://site.test/pictures/oak.png', 'content'],
    ['other', 'https://site.test/favicon.ico', 'content'],
    ['fetch', 'https://site.test/api/oak', 'unassigned'],
    ['script', 'https://stranger.test/plugins/tour/tour.js', 'outside:stranger.test'],
  ] as const)('a %s at %s is charged to %s', (type, url, expected) => expect(payer({ type, url })).toBe(expected))

  it('the maintainer’s own pattern is stronger than a folder', () => {
    const known = { ...silent, patterns: [{ pattern: '/plugins/tour/*', addon: 'tour' }] }
    const request = record('r', { type: 'script', url: 'https://site.test/plugins/tour/tour.js' })
    expect(attribute(reading([page, request]), known).requests.get('r')!.payer).toBe('tour')
  })
})

describe('registrableDomain', () => {
  it.each([
    ['a.b.example.co.uk', 'example.co.uk'],
    ['cdn.heronmark.localhost:4610', 'heronmark.localhost'],
    ['localhost', 'localhost'],
    ['127.0.0.1:80', '127.0.0.1'],
    ['me.github.io', 'me.github.io'],
  ])('of %s is %s', (host, domain) => expect(registrableDomain(host)).toBe(domain))
})

function byScript(url: string, line = 0) {
  return { type: 'script' as const, url, line, stack: [{ url, line, column: 0 }] }
}

describe('where nobody tells whose a file is', () => {
  const plain = { ...NO_SOURCES, ownHosts: ['site.test'], byOwnFolders: true }
  const own = (id: string, path: string, part: Partial<RequestRecord> = {}) =>
    record(id, { url: `https://site.test${path}`, ...part })
  const payers = (requests: RequestRecord[], known: AttributionSources = plain) => {
    const charged = attribute(reading([page, ...requests]), known).requests
    return requests.map(({ id }) => charged.get(id)!.payer)
  }

  it('pictures that a script puts in are that script’s, and those beside code its folder’s', () => {
    const script = 'https://site.test/mods/walks/w.js'
    const stack = [{ url: script, line: 0, column: 0 }]
    expect(
      payers([
        own('w', '/mods/walks/w.js'),
        own('put-in', '/media/x.png', { type: 'picture', initiator: { type: 'script', url: script, stack } }),
        own('beside', '/mods/walks/y.png', { type: 'picture' }),
        own('shown', '/media/z.png', { type: 'picture' }),
        record('ping', { url: 'https://site.test/p', type: 'ping', initiator: { type: 'script', url: script, stack } }),
      ]),
    ).toEqual(['own:/mods/walks/', 'own:/mods/walks/', 'own:/mods/walks/', 'content', 'own:/mods/walks/'])
  })

  it('a library asks on behalf of its caller, and for itself where there is none', () => {
    const frame = (path: string) => ({ url: `https://site.test${path}`, line: 0, column: 0 })
    const asks = (id: string, ...stack: string[]) =>
      record(id, { url: `https://far.test/${id}`, initiator: { type: 'script', stack: stack.map(frame) } })
    const known = { ...sources, libraries: ['lib'] }
    const files = [own('lib', '/lib.js'), own('form', '/add-ons/form/f.js')]
    expect(
      payers([...files, asks('a', '/lib.js', '/add-ons/form/f.js'), asks('b', '/lib.js')], known).slice(2),
    ).toEqual(['form', 'lib'])
  })

  it.each([
    ['https://SITE.test:443/lib.js', 'lib'],
    ['https://site.test./lib.js', 'lib'],
    ['https://site.test//add-ons//form/x.js', 'form'],
    ['https://site.test/add-ons/%66orm/x.js', 'form'],
    ['https://site.test/add-ons/form%2fx.js', 'common'],
    ['https://site.test/lib.js#part', 'lib'],
  ])('%s is %s’s', (url, payer) => expect(payers([record('r', { url })], sources)).toEqual([payer]))

  it('what one repeat has learnt of who asks holds for the others', () => {
    const picture = (initiator: RequestRecord['initiator']) => own('p', '/media/x.png', { type: 'picture', initiator })
    const silent = { type: 'parser' as const, url: 'https://site.test/' }
    const told = {
      type: 'script' as const,
      url: 'https://site.test/lib.js',
      stack: [{ url: 'https://site.test/lib.js', line: 0, column: 0 }],
    }
    const [first, second, third] = withKnownCallers([
      reading([page, picture(silent)]),
      reading([page, picture(told)]),
      reading([page]),
    ])
    expect([first!.requests[1]!.initiator, second!.requests[1]!.initiator, third!.requests.length]).toEqual([
      told,
      told,
      1,
    ])
    expect(withKnownCallers([reading([page, picture(silent)])])[0]!.requests[1]!.initiator).toEqual(silent)
  })

  it('main-thread time in code that shares a line is told apart by columns', () => {
    const code = (startColumn: number, elementId: string | null) => ({ type: 'script' as const, elementId, hash: '', bytes: 1, startLine: 0, endLine: 0, startColumn, endColumn: startColumn + 9 }) // prettier-ignore
    const read = reading([page], {
      inlineCode: [code(0, null), code(10, 'greeting')],
      mainThread: [4, 14].map((column) => ({ url: page.url, line: 0, column, ms: 1 })),
    })
    expect(attribute(read, sources).mainThread.map(({ payer }) => payer)).toEqual(['content', 'snippet'])
  })

  it('a chain of any length is charged to who began it', () => {
    const chain = Array.from({ length: 20_000 }, (_, n) => record(`c${n}`, { url: `https://far.test/${n}`, initiator: { type: 'script', url: n === 0 ? 'https://site.test/lib.js' : `https://far.test/${n - 1}` } })) // prettier-ignore
    expect(payers([own('lib', '/lib.js'), ...chain].reverse(), sources)[0]).toBe('lib')
  })
})
