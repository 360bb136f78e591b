import fc from 'fast-check'
import { readRecording, roleAndName, writeRecording, type StepAction } from '../src/index.js'

const click = (selectors: unknown) => ({ type: 'click', target: 'main', selectors, offsetX: 4, offsetY: 8 })
const flow = (...steps: unknown[]) => ({ title: 'Find an oak', steps })

describe('a recording', () => {
  it('becomes what a visitor did, by the first plain selector of each', () => {
    const read = readRecording(
      flow(
        { type: 'setViewport', width: 1280, height: 800 },
        { type: 'navigate', url: 'http://fernhollow.localhost/' },
        click([['aria/Search'], ['#seek input'], ['xpath///*[@id="seek"]/input']]),
        { type: 'change', value: 'oak', selectors: ['#seek input'] },
        { type: 'keyDown', key: 'Enter' },
        { type: 'scroll', x: 0, y: 300 },
        { type: 'scroll', x: 0, y: 600 },
      ),
    )
    expect(read).toEqual({
      title: 'Find an oak',
      sends: true,
      actions: [
        { do: 'click', at: '#seek input' },
        { do: 'type', at: '#seek input', text: 'oak' },
        { do: 'press', at: '#seek input' },
        { do: 'scroll' },
      ],
    })
  })

  it('names controls by role and name where it says both, and expects what it waits for', () => {
    const read = readRecording(
      flow(
        click([['aria/Send[role="button"]'], ['#send']]),
        { type: 'keyDown', key: 'Enter' },
        { type: 'waitForElement', selectors: [['.thanks']], properties: { textContent: 'Thank you' } },
        { type: 'waitForElement', selectors: [['.spinner']], visible: false },
      ),
    )
    expect(read).toEqual({
      title: 'Find an oak',
      sends: false,
      actions: [
        { do: 'click', at: 'role=button[name="Send"]' },
        { do: 'expect', at: '.thanks', text: 'Thank you' },
      ],
    })
  })

  it('that was written is read back as it was', () => {
    const text = fc.string({ minLength: 1, maxLength: 20 })
    const at = fc.oneof(
      fc.constantFrom('#a', 'main > p', '[name="q"]'),
      fc.tuple(fc.constantFrom('button', 'link', 'textbox'), text).map(([role, name]) => roleAndName(role, name)),
    )
    const action = fc.oneof(
      fc.record({ do: fc.constant('click' as const), at }),
      fc.record({ do: fc.constant('type' as const), at, text }),
      fc.record({ do: fc.constant('expect' as const), at, text }),
      fc.record({ do: fc.constant('expect' as const), at }),
      fc.record({
        do: fc.constant('expect' as const),
        at,
        attribute: fc.constantFrom('aria-expanded', 'data-state'),
        text,
      }),
    )
    fc.assert(
      fc.property(fc.array(action, { minLength: 1, maxLength: 8 }), (actions: StepAction[]) => {
        const read = readRecording(writeRecording({ name: 'x', actions }, 'http://a.test/'))
        expect(read).toEqual({ title: 'x', sends: false, actions })
      }),
    )
  })

  it.each([
    ['no list of steps', { title: 'x' }, '/steps'],
    ['nothing that was done', flow({ type: 'navigate', url: 'http://a/' }), '/steps'],
    ['a step of a kind that nobody knows', flow(click(['a']), { type: 'teleport' }), '/steps/1/type'],
    ['a step that no selector finds', flow(click([['aria/Search'], ['text/Go']])), '/steps/0/selectors'],
    ['an element in a frame within the page', flow(click([['#frame', '#within']])), '/steps/0/selectors'],
    ['a text that is none', flow({ type: 'change', value: 7, selectors: ['input'] }), '/steps/0/value'],
    ['more than anybody does', flow(...Array.from({ length: 51 }, () => click(['a']))), '/steps'],
  ])('with %s is refused, and the place is named', (_, value, at) => {
    expect(readRecording(value)).toMatchObject({ problems: [{ at }] })
  })

  it('of any shape is read or refused, and never thrown at', () => {
    const keys = fc.constantFrom('steps', 'type', 'selectors', 'value', 'title')
    fc.assert(fc.property(fc.anything(), (value) => void readRecording(value)))
    fc.assert(fc.property(fc.object({ key: keys }), (value) => void readRecording(value)))
    fc.assert(
      fc.property(
        fc.array(fc.record({ type: fc.constantFrom('click', 'change', 'scroll', 'x'), selectors: fc.anything() })),
        (steps) => void readRecording({ steps }),
      ),
    )
  })
})

it('a recording of something done within a frame is refused with the place', () =>
  expect(readRecording({ steps: [{ type: 'click', selectors: [['#a']], frame: [0] }] })).toMatchObject({
    problems: [{ at: '/steps/0/frame' }],
  }))
