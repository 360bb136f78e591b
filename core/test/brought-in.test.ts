import { attribute, NO_SOURCES, whoBringsIn, type Reading, type RequestRecord } from '../src/index.js'

const origin = 'http://site.test'
const request = (path: string, more: Partial<RequestRecord> = {}): RequestRecord =>
  ({
    id: path,
    url: path.startsWith('/') ? `${origin}${path}` : path,
    method: 'GET',
    type: path === '/' ? 'document' : path.endsWith('.css') ? 'style' : 'script',
    status: 200,
    fromCache: false,
    transferBytes: 100,
    decodedBytes: 100,
    responseHeaders: {},
    startedMs: 0,
    endedMs: 1,
    initiator: { type: 'parser', url: `${origin}/` },
    ...more,
  }) as unknown as RequestRecord
const sources = {
  ...NO_SOURCES,
  ownHosts: ['site.test'],
  prefixes: ['tags', 'counter', 'look'].map((addon) => ({ prefix: `/kit/${addon}/`, addon })),
}
const reading = (requests: RequestRecord[]) =>
  ({ url: `${origin}/`, finalUrl: `${origin}/`, requests, inlineCode: [], mainThread: [], elementMakers: [] }) as unknown as Reading // prettier-ignore
const ways = (...requests: RequestRecord[]) => {
  const read = reading([request('/', { initiator: { type: 'other' } }), ...requests])
  return whoBringsIn(read, attribute(read, sources), new Set(['counter']))
}
const byScript = (path: string) => ({ type: 'script', stack: [{ url: `${origin}${path}` }] }) as never

it('names the add-on whose script asked, the page where it has a tag, and code in the page', () => {
  expect(
    ways(request('/kit/tags/t.js'), request('/kit/counter/c.js', { initiator: byScript('/kit/tags/t.js') })),
  ).toEqual(new Map([['counter', [{ by: 'tags', how: 'script', url: `${origin}/kit/counter/c.js` }]]]))
  expect(ways(request('/kit/counter/c.js')).get('counter')).toMatchObject([{ by: null, how: 'tag' }])
  expect(ways(request('/kit/counter/c.js', { initiator: byScript('/') })).get('counter')).toMatchObject([
    { by: null, how: 'script' },
  ])
})

it('passes over what it asks for itself, and tells each way once', () => {
  const found = ways(
    request('/kit/counter/c.js'),
    request('/kit/counter/d.js'),
    request('/kit/counter/more.js', { initiator: byScript('/kit/counter/c.js') }),
    request('/kit/look/l.css'),
    request('/kit/counter/x.css', { initiator: { type: 'parser', url: `${origin}/kit/look/l.css` } as never }),
  )
  expect(found.get('counter')).toMatchObject([
    { by: null, how: 'tag', url: `${origin}/kit/counter/c.js` },
    { by: 'look', how: 'style' },
  ])
})

it('says nothing of what did not come, or of others', () => {
  expect(ways(request('/kit/tags/t.js'))).toEqual(new Map())
})
