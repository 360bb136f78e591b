import 'reflect-metadata'
import type { RuleView } from '@unvelt/contract'
import { hostLines, hostsIn, particularWords } from '../src/rules/particular-words.js'
import { ruleOf, valuesOf } from '../src/rules/rule-values.js'

const rule = (part: Partial<RuleView>): RuleView => ({
  ...{ id: 'a', addon: 'faces', addonName: 'Faces', effect: 'local', place: { level: 'everywhere' } },
  ...part,
})
const FONT = { family: 'Lora', weight: '700', local: ['Arial Bold'], size: 104.4, ascent: 90, descent: 20, lineGap: 0 }

it.each<[string, Partial<RuleView>]>([
  ['', {}],
  ['fetched anew every 7 days; may be copied: OFL', { copy: { refreshDays: 7, licence: 'OFL' } }],
  ['fetched anew every 1 day', { copy: { refreshDays: 1 } }],
  ['Lora 700 by Arial Bold at 104 %', { effect: 'system-font', fonts: [FONT] }],
  [
    'a.test, f.test (fonts), n.test (name only)',
    {
      effect: 'hint',
      hosts: [
        { origin: 'https://a.test' },
        { origin: 'https://f.test', cors: true },
        { origin: 'https://n.test', nameOnly: true },
      ],
    },
  ],
  ['Show the map', { effect: 'hold', until: 'asked', ask: { words: 'Show the map' } }],
])('says “%s”', (words, part) => expect(particularWords(rule(part))).toBe(words))

it('hosts are lines of text and back', () => {
  const text = 'https://a.test\nhttps://f.test fonts\nhttp://n.test:81 name'
  expect(hostLines(hostsIn(`\n ${text} \n`))).toBe(text)
  expect(hostsIn('HTTPS://A.test/path?x')).toEqual([{ origin: 'https://a.test' }])
  for (const line of ['a.test', 'ftp://a.test', 'https://a.test font', 'https://'])
    expect(() => hostsIn(line)).toThrow(line)
})

it('a form gives back what a rule says, and nothing of another effect', () => {
  const local = rule({ copy: { refreshDays: 7, licence: 'OFL' } })
  expect(ruleOf(valuesOf(local, ''))).toMatchObject({ effect: 'local', copy: local.copy })
  const hint = rule({ effect: 'hint', hosts: [{ origin: 'https://f.test', cors: true }] })
  expect(ruleOf(valuesOf(hint, ''))).toMatchObject({ effect: 'hint', hosts: hint.hosts })
  expect(ruleOf({ ...valuesOf(local, ''), effect: 'leave-out' })).not.toHaveProperty('copy')
  // Which fonts stand in is found anew whenever it is drafted.
  expect(ruleOf(valuesOf(rule({ effect: 'system-font', fonts: [FONT] }), ''))).not.toHaveProperty('fonts')
})
