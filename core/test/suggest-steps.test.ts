import fc from 'fast-check'
import { suggestSteps, withExpectation, type OfferedForm, type PageOffers, type Step } from '../src/index.js'

const NOTHING: PageOffers = { shut: [], forms: [], parts: [], words: [] }
const form = (own: Partial<OfferedForm>): OfferedForm => ({
  name: 'Write to us',
  method: 'post',
  action: '/send',
  fields: [{ at: '#f [name="mail"]', type: 'email', required: true }],
  submit: '#f button',
  ...own,
})

it('opens what is shut, once for each name, and not forty of them', () => {
  const shut = Array.from({ length: 40 }, (_, n) => ({ role: 'button', name: `Question ${n % 20}` }))
  const steps = suggestSteps({ ...NOTHING, shut })
  expect(steps.map(({ name }) => name)).toEqual([
    'open Question 0',
    'open Question 1',
    'open Question 2',
    'open Question 3',
  ])
  expect(steps[0]!.actions).toEqual([{ do: 'click', at: 'role=button[name="Question 0"]' }])
})

it('searches with a word of the page, and sends nothing by it', () => {
  const search = form({
    method: 'get',
    action: '/find',
    fields: [{ at: '[name="q"]', type: 'search', required: false }],
  })
  expect(suggestSteps({ ...NOTHING, forms: [search], words: ['arboretum', 'maples'] }, 'Fernhollow Arboretum')).toEqual(
    [
      {
        name: 'search for maples',
        actions: [
          { do: 'type', at: '[name="q"]', text: 'maples' },
          { do: 'press', at: '[name="q"]' },
        ],
      },
    ],
  )
})

it('fills a form and says that it sends', () => {
  const fields = [
    { at: '[name="mail"]', type: 'email', required: true },
    { at: '[name="topic"]', type: 'select', required: true, entries: ['Tours', 'Trees'] },
    { at: '[name="more"]', type: 'checkbox', required: false },
    { at: '[name="agree"]', type: 'checkbox', required: true },
    { at: '[name="words"]', type: 'textarea', required: true },
  ]
  const [step] = suggestSteps({ ...NOTHING, forms: [form({ fields })] })
  expect(step).toMatchObject({ name: 'send Write to us', sends: true })
  expect(step!.actions).toEqual([
    { do: 'type', at: '[name="mail"]', text: 'visitor@example.test' },
    { do: 'choose', at: '[name="topic"]', text: 'Tours' },
    { do: 'click', at: '[name="agree"]' },
    { do: 'type', at: '[name="words"]', text: 'Oak' },
    { do: 'click', at: '#f button' },
  ])
})

it.each([
  ['asks for a password', form({ fields: [{ at: '[name="word"]', type: 'password', required: true }] })],
  ['can’t be sent', form({ submit: null })],
  ['only presses something that nobody knows', form({ fields: [] })],
  ['chooses what is shown', form({ method: 'get', fields: [{ at: 'select', type: 'select', required: false }] })],
])('leaves a form alone that %s', (_, offered) => {
  expect(suggestSteps({ ...NOTHING, forms: [offered] })).toEqual([])
})

it('puts something into the basket, which is the browser’s own', () => {
  const steps = suggestSteps({
    ...NOTHING,
    forms: [form({ action: '/basket/add', fields: [], name: 'Add to basket' })],
  })
  expect(steps).toEqual([{ name: 'put in Add to basket', actions: [{ do: 'click', at: '#f button' }] }])
})

it('suggests nothing that any password field has a part in, and no name too long for a step', () => {
  const field = fc.record({
    at: fc.string({ minLength: 1, maxLength: 20 }),
    type: fc.constantFrom('text', 'email', 'password', 'file', 'select', 'checkbox'),
    required: fc.boolean(),
  })
  const anyForm = fc.record({
    name: fc.string({ maxLength: 200 }),
    method: fc.constantFrom('get' as const, 'post' as const),
    action: fc.constantFrom('/a', '/cart', '/search'),
    fields: fc.array(field, { maxLength: 15 }),
    submit: fc.option(fc.constant('#send')),
  })
  const anyOffers = fc.record({
    shut: fc.array(fc.record({ role: fc.constant('button'), name: fc.string({ maxLength: 200 }) }), { maxLength: 10 }),
    forms: fc.array(anyForm, { maxLength: 6 }),
    parts: fc.array(fc.record({ at: fc.string({ minLength: 1 }), what: fc.string() }), { maxLength: 4 }),
    words: fc.array(fc.string({ minLength: 1, maxLength: 30 }), { maxLength: 5 }),
  })
  fc.assert(
    fc.property(anyOffers, (offers) => {
      const guarded = offers.forms.flatMap(({ fields }) =>
        fields.filter(({ type }) => type === 'password' || type === 'file').map(({ at }) => at),
      )
      for (const step of suggestSteps(offers)) {
        expect(step.name.length).toBeLessThanOrEqual(60)
        expect(step.actions.length).toBeGreaterThan(0)
        const free = offers.forms.flatMap(({ fields }) => fields.filter(({ type }) => type !== 'password' && type !== 'file').map(({ at }) => at)) // prettier-ignore
        for (const action of step.actions)
          if (action.do === 'type' && guarded.includes(action.at)) expect(free).toContain(action.at)
      }
    }),
  )
})

const reach = (controls: string[], texts: string[] = []) => ({ controls, texts })
const press: Step = { name: 'open Menu', actions: [{ do: 'click', at: 'role=button[name="Menu"]' }] }

it.each<[string, string[], string[], boolean, object | undefined]>([
  ['what can be reached then', ['button: Menu'], ['button: Menu', 'link: Visit'], true, { do: 'expect', at: 'role=link[name="Visit"]' }],
  ['a name without a figure first', [], ['link: 12 results', 'link: Oak'], false, { do: 'expect', at: 'role=link[name="Oak"]' }],
  ['the count that grew', ['link: Basket (0)'], ['link: Trees', 'link: Basket (1)'], false, { do: 'expect', at: 'role=link[name="Basket (1)"]' }],
  ['that it is open, where nothing else comes', ['button: Menu'], ['button: Menu'], true, { do: 'expect', at: 'role=button[name="Menu"]', attribute: 'aria-expanded', text: 'true' }],
  ['nothing, where nothing comes', ['button: Menu'], ['button: Menu'], false, undefined],
  ['nothing of a text that is soon another', [], [`link: ${'x'.repeat(90)}`], false, undefined],
])('learns to expect %s', (_, before, after, opens, expected) => {
  const learnt = withExpectation(press, reach(before), reach(after), opens)
  expect(learnt.actions[1]).toEqual(expected)
  expect(learnt.actions[0]).toEqual(press.actions[0])
}) // prettier-ignore

it('expects of a search what says what was searched for, before all else that comes', () => {
  const search: Step = { name: 'search', actions: [{ do: 'type', at: '[name="q"]', text: 'Oak' }] }
  const after = ['searchbox: Words', 'link: Home', 'link: The old oak']
  expect(withExpectation(search, reach([]), reach(after), false).actions[1]).toEqual({
    do: 'expect',
    at: 'role=link[name="The old oak"]',
  })
  expect(withExpectation(search, reach([]), reach(after.slice(0, 2)), false).actions[1]).toEqual({
    do: 'expect',
    at: 'role=link[name="Home"]',
  })
})

it('expects of what was sent what the page says then, and no control', () => {
  const send: Step = { name: 'send', sends: true, actions: [{ do: 'click', at: 'button' }] }
  const before = reach([], ['h1: Ask us', 'p: Your 3rd letter: thank you'])
  const after = reach(['link: Home'], ['h1: Ask us', 'p: Number 17 is in our hands', 'p: Thank you: we write soon'])
  expect(withExpectation(send, before, after, false).actions[1]).toEqual({
    do: 'expect',
    at: 'p',
    text: 'Thank you: we write soon',
  })
  expect(withExpectation(send, before, before, false)).toBe(send)
})

it('leaves a step alone that expects something by itself', () => {
  const step: Step = { name: 'see', actions: [{ do: 'expect', at: 'h1' }] }
  expect(withExpectation(step, reach([]), reach(['link: New']), false)).toBe(step)
})
