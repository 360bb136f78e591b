import type { ProofFigure, ProofPage } from '@unvelt/contract'
import { gainWords } from '../src/hand-over/gain-words.js'

const figure = (before: number, after: number, word = 'better'): ProofFigure => ({
  before,
  after,
  difference: after - before,
  low: null,
  high: null,
  word,
  more: 0,
  beforeReadings: [before],
  afterReadings: [after],
})
const page = (title: string, figures: Record<string, ProofFigure>, views: number | null = null): ProofPage => ({
  page: { id: 1, path: `/${title}`, title, kind: 'page', area: 'public', signedIn: false, modified: null, views },
  figures,
  predicted: {},
})
const plain = (sentences: string[]) => sentences.join(' ').replaceAll('\u00a0', ' ')

it('says of one page what got less, from what to what, and what that is over its visits', () => {
  const contact = page(
    'Contact',
    { largestPaintMs: figure(900, 600), transferBytes: figure(400_000, 300_000), requests: figure(40, 37) },
    50,
  )
  expect(plain(gainWords([contact]))).toBe(
    'On Contact the largest part of the page is there sooner, by 300 ms: after 600 ms, and it was 900 ms. ' +
      'On Contact a visitor loads 100 KB less, in 3 fewer requests. ' +
      'At 50 views in thirty days, as the site counts them, that is 5.00 MB that need not be sent.',
  )
})

it('says on how many of several pages, and hides nothing that got worse', () => {
  const pages = [
    page('One', { transferBytes: figure(2_000, 1_000), largestPaintMs: figure(100, 150, 'worse') }),
    page('Two', { transferBytes: figure(9_000, 4_000), largestPaintMs: figure(100, 90, 'no measurable change') }),
    page('Three', { transferBytes: figure(9_000, 9_000, 'no measurable change') }),
  ]
  const said = plain(gainWords(pages))
  expect(said).toContain('On 2 of 3 pages a visitor loads 1.0 KB to 5.0 KB less.')
  expect(said).toContain('On One the largest part of the page is there later, by 50 ms')
  expect(said).not.toContain('views')
  const visited = [
    page('One', { transferBytes: figure(2_000_000, 1_000_000) }, 10),
    page('Two', { transferBytes: figure(3_000_000, 1_000_000) }, 20),
    page('Three', { transferBytes: figure(9_000, 9_000, 'no measurable change') }, 900),
  ]
  expect(plain(gainWords(visited))).toContain(
    'At 30 views of these 2 pages in thirty days, as the site counts them, that is 50.00 MB that need not be sent.',
  )
})

it('speaks of two pages as one does', () => {
  const two = ['One', 'Two'].map((title) => page(title, { requests: figure(9, 5) }))
  expect(plain(gainWords(two))).toBe('On both pages 4 fewer requests are made.')
})

it('claims nothing where nothing was found, and nothing of visits where pages got heavier', () => {
  const same = page(
    'One',
    { transferBytes: figure(2_000, 1_990, 'too small to matter'), serverMs: figure(9, 3, '') },
    9,
  )
  expect(gainWords([same])).toEqual(['Nothing that a visitor would notice could be measured.'])
  const heavier = page('One', { transferBytes: figure(1_000, 2_000, 'worse') }, 1_000)
  expect(plain(gainWords([heavier]))).toBe('On One a visitor loads 1.0 KB more.')
})
