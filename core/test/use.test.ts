import fc from 'fast-check'
import {
  attributeWithSteps,
  NO_SOURCES,
  seenInUse,
  useWord,
  type PageLook,
  type UseFact,
  type UseSight,
} from '../src/index.js'
import { reading, record } from './reading-arbitrary.js'

const SILENT: UseSight = { works: null, hasBlocks: false, browserOnly: false, seenShare: 0 }
const LOOKED: PageLook = { read: true, steps: true }
const fact = (word: UseFact['word'], source: UseFact['source'] = 'connector'): UseFact => ({
  word,
  source,
  because: '',
})

describe('one word for what is known of use', () => {
  it('is unknown where nothing could have told', () => expect(useWord([], SILENT, LOOKED)).toBe('unknown'))
  it('is not seen where content would have told', () =>
    expect(useWord([], { ...SILENT, hasBlocks: true }, { read: false, steps: false })).toBe('not seen'))
  it('is not seen where a reading with steps would have noticed, and not after a mere load', () => {
    const sight = { ...SILENT, browserOnly: true, seenShare: 0.1 }
    expect(useWord([], sight, LOOKED)).toBe('not seen')
    expect(useWord([], sight, { read: true, steps: false })).toBe('unknown')
  })
  it('is unknown for what writes into the page on the server, and for what was seen on most other pages', () => {
    expect(useWord([], { ...SILENT, seenShare: 0.1 }, LOOKED)).toBe('unknown')
    expect(useWord([], { ...SILENT, browserOnly: true, seenShare: 0.9 }, LOOKED)).toBe('unknown')
  })
  it('of the maintainer stands above all, the last one above the others', () =>
    expect(useWord([fact('used'), fact('planned', 'hand'), fact('not seen', 'hand')], SILENT, LOOKED)).toBe('not seen'))
  it('is used as soon as anything shows it', () =>
    expect(useWord([fact('planned'), fact('used', 'reading')], { ...SILENT, works: 'unseen' }, LOOKED)).toBe('used'))
  it('of what works unseen is never that it was not seen', () =>
    fc.assert(
      fc.property(fc.boolean(), fc.double({ min: 0, max: 1, noNaN: true }), (hasBlocks, seenShare) =>
        expect(useWord([], { works: 'once', hasBlocks, browserOnly: true, seenShare }, LOOKED)).toBe('works unseen'),
      ),
    ))
})

describe('signs of use in a reading', () => {
  const own = (slug: string) => `https://site.test/a/${slug}/x.js`
  const sources = {
    ...NO_SOURCES,
    ownHosts: ['site.test'],
    prefixes: ['chat', 'menu', 'type', 'dead'].map((addon) => ({ prefix: `/a/${addon}/`, addon })),
  }
  const frame = (slug: string) => [{ url: own(slug), line: 1, column: 1 }]
  const one = reading(
    [
      record('p', { url: 'https://site.test/', type: 'document' }),
      ...['chat', 'menu', 'dead'].map((slug) => record(slug, { url: own(slug), type: 'script', decodedBytes: 1000 })),
      record('face', { url: 'https://site.test/a/type/face.woff2', type: 'font' }),
      record('lost', { url: 'https://site.test/a/dead/face.woff2', type: 'font', failure: 'gone' }),
    ],
    {
      elementMakers: [
        { stack: [], elements: 50, inSight: 40 },
        { stack: frame('chat'), elements: 3, inSight: 2 },
        { stack: frame('dead'), elements: 3, inSight: 0 },
      ],
      fileUse: [
        { requestId: 'menu', used: [[0, 100]] },
        { requestId: 'dead', used: [[0, 900]] },
      ],
      laterUse: [
        { requestId: 'menu', used: [[0, 400]] },
        { requestId: 'dead', used: [[0, 910]] },
      ],
    },
  )
  it('are elements in sight, code that only a step ran, and typefaces drawn; what is merely loaded is none', () =>
    expect(seenInUse(one, attributeWithSteps(one, sources))).toEqual([
      { payer: 'chat', because: '2 elements in sight that its script made' },
      { payer: 'menu', because: '300 bytes of it ran only in a step' },
      { payer: 'type', because: '1 typeface drawn' },
    ]))
})
