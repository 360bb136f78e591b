import 'reflect-metadata'
import { isWhole, requestOf, type Choice } from '../src/frame/page-choice-request.js'
import { previewWords } from '../src/frame/preview-words.js'

const ALL: Choice = { which: 'all' }
const lens = (pages: number, of = 66, share: number | null = null) => ({
  lensId: 1,
  pages,
  of,
  share,
  secondsEach: null,
})

it('a choice of pages is asked for by what it is made of, and an empty one can’t begin', () => {
  const sample = { mostVisited: 0, drawn: 2, seed: 7 }
  const choices: [Choice, object, boolean][] = [
    [ALL, {}, true],
    [{ which: 'kinds', kinds: ['event'] }, { kinds: ['event'] }, true],
    [{ which: 'kinds', kinds: [] }, { kinds: [] }, false],
    [{ which: 'hand', ids: [4, 2] }, { pageIds: [4, 2] }, true],
    [{ which: 'sitemap', ids: [] }, { pageIds: [] }, false],
    [{ which: 'sample', sample }, { sample }, true],
    [{ which: 'sample', sample: { ...sample, drawn: 0 } }, { sample: { ...sample, drawn: 0 } }, false],
  ]
  for (const [choice, request, whole] of choices) {
    expect(requestOf(choice)).toEqual(request)
    expect(isWhole(choice)).toBe(whole)
  }
})

describe('what a sweep is going to read', () => {
  it('is told with its readings, and with the share of visits where it is not all', () => {
    expect(previewWords([lens(66)], ALL, 4)).toBe('66 pages: 264 readings.')
    expect(previewWords([lens(12, 66, 0.834)], { which: 'kinds', kinds: ['event'] }, 1)).toBe(
      '12 pages of 66, with 83\u00a0% of the known page views: 12 readings.',
    )
    expect(previewWords([lens(1)], { which: 'hand', ids: [3] }, 1)).toBe('1 page of 66: 1 reading.')
  })

  it('is told with the time it takes, where each lens was looked through before', () => {
    const paced = (pages: number, secondsEach: number | null) => ({ ...lens(pages), secondsEach })
    expect(previewWords([paced(66, 3.4)], ALL, 4)).toBe(
      '66 pages: 264 readings, about 15\u00a0min at the pace of the last sweep.',
    )
    expect(previewWords([paced(2, 3.4)], ALL, 1)).toContain('2 readings, about a minute at')
    expect(previewWords([paced(66, 3.4), paced(66, null)], ALL, 4)).toBe('66 pages: 528 readings.')
  })

  it('counts each lens, and says where one doesn’t see what was chosen', () => {
    const choice: Choice = { which: 'hand', ids: [1, 2, 3] }
    expect(previewWords([lens(2), lens(3, 77)], choice, 2)).toBe(
      '2 to 3 pages, by lens: 10 readings. 1 page of those chosen can’t be seen through each lens.',
    )
    expect(previewWords([lens(1)], choice, 1)).toContain('2 pages of those chosen can’t be seen through the lens.')
  })
})
