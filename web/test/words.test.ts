import 'reflect-metadata'
import fc from 'fast-check'
import type { Place } from '@unvelt/contract'
import { EFFECTS } from '@unvelt/contract'
import { sentenceOfUse } from '../src/add-ons/rows.js'
import { evidenceWords } from '../src/pages/evidence.js'
import { choiceKey, effectChoices, effectWords, placeWords, subjectWords } from '../src/rules/words.js'
import { actionWords } from '../src/steps/step-words.js'

describe('effects', () => {
  it('are said in as many ways as there are, and each choice is told from the others', () => {
    const choices = effectChoices(EFFECTS)
    expect(new Set(choices.map(choiceKey)).size).toBe(choices.length)
    expect(new Set(choices.map(effectWords)).size).toBe(choices.length)
    // A setting needs a name and a number, which a choice doesn't have.
    expect(choices.map(({ effect }) => effect)).not.toContain('set')
    expect(effectWords({ effect: 'set', value: 12 })).toBe('set to 12')
  })

  it('that say nothing more hold until the page is idle, and are put off until it is read', () => {
    expect(choiceKey({ effect: 'hold' })).toBe(choiceKey({ effect: 'hold', until: 'idle' }))
    expect(effectWords({ effect: 'order' })).toBe(effectWords({ effect: 'order', order: 'defer' }))
  })

  it('are of an add-on, or of the part of it that is named', () => {
    const rule = { addonName: 'Walk Almanac' } as Parameters<typeof subjectWords>[0]
    expect(subjectWords(rule)).toBe('Walk Almanac')
    expect(subjectWords({ ...rule, feature: 'list' })).toBe('Walk Almanac, feature list')
    expect(subjectWords({ ...rule, file: '/a.js' })).toBe('Walk Almanac, /a.js')
    expect(subjectWords({ ...rule, setting: 'walks' })).toBe('Walk Almanac, walks')
  })
})

it.each<[Place, string]>([
  [{ level: 'everywhere' }, 'everywhere'],
  [{ level: 'area', area: 'public' }, 'on all public pages'],
  [{ level: 'area', area: 'office' }, 'in the back office'],
  [{ level: 'kind', kind: 'event' }, 'on every page of kind event'],
  [{ level: 'path', pattern: '/news/*' }, 'on addresses like /news/*'],
  [{ level: 'set', paths: ['/a', '/b'] }, 'on 2 pages'],
  [{ level: 'page', path: '/a' }, 'on /a'],
])('%j is %s', (place, words) => expect(placeWords(place)).toBe(words))

describe('what is known of use', () => {
  const of = (pages: number, used: number, use: [string, number][] = []) =>
    sentenceOfUse({ pages, used, use: new Map(use) })

  it('is one plain sentence', () => {
    expect(of(58, 1, [['used', 1]])).toBe('Loaded on 58 pages, seen in use on 1.')
    expect(of(1, 0, [['not seen', 1]])).toBe('Loaded on 1 page, seen in use on none.')
    expect(of(0, 0, [['works unseen', 60]])).toBe('Loaded on no page; does its work without showing.')
    expect(of(4, 0, [['planned', 1]])).toBe('Loaded on 4 pages; planned for 1 page.')
  })

  it('says of none that nobody uses it as long as one page is unknown', () =>
    fc.assert(
      fc.property(fc.nat(60), fc.nat(60), fc.integer({ min: 1, max: 60 }), (pages, notSeen, unknown) => {
        const sentence = of(pages, 0, [
          ['not seen', notSeen],
          ['unknown', unknown],
        ])
        expect(sentence).toContain('is not known')
      }),
    ))
})

it('why somebody pays is a sentence, whatever decided it', () => {
  const because = 'Tagbasket'
  const said = (
    ['register', 'prefix', 'pattern', 'inline', 'initiator', 'outsider', 'folder', 'unassigned'] as const
  ).map((evidence) => evidenceWords({ evidence, because } as Parameters<typeof evidenceWords>[0]))
  expect(new Set(said).size).toBe(said.length)
  for (const sentence of said) expect(sentence).toMatch(/^[A-Z].*\.$/)
})

it('steps are told as what somebody does', () => {
  const at = '#menu'
  expect([
    actionWords({ do: 'click', at }),
    actionWords({ do: 'type', at, text: 'oak' }),
    actionWords({ do: 'fill', at }),
    actionWords({ do: 'scroll' }),
  ]).toEqual(['press #menu', 'type “oak” into #menu', 'fill #menu, and send nothing', 'scroll through the page'])
})
