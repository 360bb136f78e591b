import type { Rule } from '@unvelt/core'
import { addOnsOf, planVariants, type VariantSite } from '../src/weigh-in/plan-variants.js'

const live: Rule = { id: 'live', addon: 'slider', effect: 'skip', place: { level: 'everywhere' } }
const site = (more: Partial<VariantSite> = {}): VariantSite => ({
  live: [live],
  paths: ['/about', '/contact'],
  triesAddOns: true,
  canSkip: (slug) => slug === 'slider',
  ...more,
})
const place = { level: 'set', paths: ['/about', '/contact'] }

it('what is as it is goes by the live rules, and a setting’s value stands on top of them on the pages weighed', () => {
  const at = (value: number) => [{ addon: 'walks', setting: 'most', value }]
  const [first, second] = planVariants([{ name: 'As it is' }, { name: '5', settings: at(5) }], site())
  expect(first).toEqual({ name: 'variant-0', rules: 'live' })
  expect(second).toMatchObject({ name: 'variant-1', rules: 'live', drafts: { addOns: {} } })
  expect(second!.drafts!.rules).toEqual([
    live,
    expect.objectContaining({ addon: 'walks', setting: 'most', value: 5, effect: 'set', place }),
  ])
})

it('an add-on is not there where the site can try that, and is unloaded by a rule where it can’t', () => {
  const variants = [{ name: 'x', without: ['slider', 'share'], versions: [{ addon: 'plain', version: '2' }] }]
  const [tried] = planVariants(variants, site())
  expect(tried!.drafts).toEqual({ rules: [live], addOns: { slider: null, share: null, plain: '2' } })
  const [ruled] = planVariants(variants, site({ triesAddOns: false, live: [] }))
  expect(ruled!.drafts!.addOns).toEqual({})
  expect(ruled!.drafts!.rules.map(({ addon, effect }) => [addon, effect])).toEqual([
    ['slider', 'skip'],
    ['share', 'leave-out'],
  ])
})

it('is about all that variants differ in, each once', () => {
  expect(
    addOnsOf([
      { name: 'a', without: ['one'] },
      { name: 'b', featuresOff: [{ addon: 'one', feature: 'x' }], versions: [{ addon: 'two', version: '1' }] },
    ]),
  ).toEqual(['one', 'two'])
})
