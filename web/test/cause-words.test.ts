import type { CauseSearch, CauseStageView } from '@unvelt/contract'
import { outcomeWords, runningWords, saysOf } from '../src/complaints/cause-words.js'
import { authorNote } from '../src/complaints/author-note.js'

const stage = (more: Partial<CauseStageView>): CauseStageView => ({
  level: 'absent',
  mends: true,
  suspects: [
    { id: 'veil', reasons: ['named'] },
    { id: 'rest', reasons: [] },
  ],
  names: ['Veil', 'Rest'],
  tries: [{ changes: [], fails: false, readings: 1 }],
  asking: null,
  outcome: null,
  found: [],
  ...more,
})
const search = (stages: CauseStageView[], more: Partial<CauseSearch> = {}): CauseSearch => ({
  id: 1,
  pageId: 2,
  lensId: 3,
  lens: 'Desk',
  kind: 'guard',
  text: 'link /map is gone',
  guard: 'links',
  roundId: 4,
  state: 'done',
  failure: null,
  stages,
  place: null,
  guilty: [],
  startedAt: '2026-11-30T10:00:00.000Z',
  finishedAt: null,
  ...more,
})
const guilty = [{ slug: 'veil', name: 'Veil', version: '2.0' }]

it('what a guard missed is told by what mends it', () => {
  expect(outcomeWords(search([stage({ outcome: 'found', found: ['veil'] })], { guilty }))).toBe(
    'Veil 2.0 causes it: the page is well without it.',
  )
  const earlier = stage({ level: 'earlier', outcome: 'found', found: ['veil'] })
  expect(outcomeWords(search([earlier], { guilty }))).toContain('the page is well with what was there before')
  const none = [stage({ level: 'earlier', outcome: 'without' }), stage({ outcome: 'without' })]
  expect(outcomeWords(search(none))).toContain('None of 2 add-ons mends it by being left out, nor by being put back')
  expect(outcomeWords(search([stage({ outcome: 'never' })]))).toBe('It is as it should be by now.')
})

it('says what is being tried, and what a set that was tried means', () => {
  const asking = stage({ asking: ['veil'] })
  expect(runningWords(search([asking], { state: 'running' }))).toContain('reading it without Veil')
  expect(runningWords(search([stage({ level: 'earlier', asking: ['veil'] })]))).toContain('with Veil put back')
  expect(saysOf(search([]), stage({}))).toEqual({ breaks: 'well again', holds: 'still so' })
  expect(saysOf(search([], { kind: 'errors' }), stage({ mends: false })).breaks).toBe('complains')
})

it('the note holds the smallest page where it is short, and names it where it is long', () => {
  const site = { address: 'http://site.example', cms: null }
  const found = search([stage({ level: 'addon', mends: false, outcome: 'found', found: ['veil'] })], {
    kind: 'errors',
    text: 'veil is not defined',
    guard: null,
    roundId: null,
    guilty,
  })
  const note = (html: string | null, bytes: number | null = html?.length ?? null) =>
    authorNote(found, site, { path: '/map' }, { browser: 'Chromium', smallest: { html, bytes } })
  expect(note('<script src="/veil.js"></script>')).toContain('at the same address:\n\n<script src="/veil.js"></script>')
  expect(note('x'.repeat(5_000))).toContain('is attached.')
  expect(note(null, 50_000)).toContain('is attached.')
  expect(note(null)).not.toContain('smallest')
})
