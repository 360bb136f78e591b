import 'reflect-metadata'
import type { StepIdea, StepIdeas } from '@unvelt/contract'
import { ideaWords, kindWords, leftOutWords, stateWords, withOwnNames } from '../src/steps/idea-words.js'

const idea = (part: Partial<StepIdea> = {}): StepIdea => ({
  step: { name: 'open Menu', kind: null, actions: [{ do: 'click', at: 'role=button[name="Menu"]' }] },
  ...{ path: '/', device: 'handset', kinds: ['page'], works: true, why: null },
  ...part,
})
const looked = (part: Partial<StepIdeas> = {}): StepIdeas => ({
  ...{ id: 1, state: 'done', failure: null, takenAt: '', pages: 26, looked: 26, ideas: [], failed: [] },
  ...part,
})
const when = () => 'today'

it('says where a step was found and tried', () => {
  expect(kindWords(idea())).toBe('on page')
  expect(kindWords(idea({ kinds: ['page', 'event'] }))).toBe('on 2 kinds')
  expect(ideaWords(idea())).toBe('works on /, on a handset')
  expect(ideaWords(idea({ works: null }))).toBe('sends something, so not tried')
})

it('says how far the pages have been looked at', () => {
  expect(stateWords(looked({ state: 'waiting', looked: 3 }), 2, when)).toBe('3 of 26 views looked at.')
  expect(stateWords(looked(), 2, when)).toBe('2 steps, today.')
  expect(stateWords(looked(), 0, when)).toBe('Nothing that is not there already, today.')
  expect(stateWords(looked({ looked: 1 }), 0, when)).toBe('Stopped behind 1 of 26 views, today.')
  expect(stateWords(looked({ looked: 1 }), 3, when)).toBe('3 steps on 1 of 26 views, today.')
  expect(leftOutWords(1, 0)).toBe('1 step did not go through twice')
  expect(leftOutWords(2, 1)).toBe('2 steps did not go through twice, 1 view could not be read')
})

it('gives each added step a name of its own', () => {
  const [first] = withOwnNames([idea()], [])
  expect(withOwnNames([idea(), idea()], [first!]).map(({ name }) => name)).toEqual(['open Menu 2', 'open Menu 3'])
})
