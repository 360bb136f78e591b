import { keptWords, purposeWords } from '../src/storage/storage-words.js'

it('a sweep is named by what it was made for', () => {
  expect(purposeWords({ id: 4, purpose: 'survey' })).toBe('Sweep 4')
  expect(purposeWords({ id: 5, purpose: 'proof' })).toBe('Before and after, sweep 5')
  expect(purposeWords({ id: 6, purpose: 'weigh-in' })).toBe('Weigh-in, sweep 6')
})

it('what it is kept for is said, all of it', () => {
  expect(keptWords({ keptFor: null, tells: null, shown: false, inFull: true })).toBe('')
  expect(keptWords({ keptFor: 'gain', tells: 'Pass It On', shown: true, inFull: true })).toBe(
    'what screens show, the gain of Pass It On’s retirement',
  )
  expect(keptWords({ keptFor: 'proof', tells: null, shown: false, inFull: true })).toBe('a proof')
  expect(keptWords({ keptFor: 'gain', tells: 'Ticker', shown: false, inFull: false })).toBe(
    'its tolls, the gain of Ticker’s retirement',
  )
})
