import fc from 'fast-check'
import type { Lens } from '@unvelt/contract'
import { inputOf, NETWORK_CHOICES, OWN_NETWORK, valuesOf, visitorOf } from '../src/lenses/lens-values.js'
import { lensWords } from '../src/lenses/lens-words.js'

const lens = (part: Partial<Lens> = {}): Lens => ({
  id: 1,
  name: 'Desk',
  device: { viewportWidth: 1280, viewportHeight: 800, phone: false, cpuSlowdown: 1 },
  network: null,
  visitor: 'signed-out',
  role: null,
  signInPage: null,
  signInPath: null,
  cache: 'cold',
  consent: null,
  sweeps: 0,
  ...part,
})

describe('a lens in its form', () => {
  it('comes out as it went in, whatever its figures are', () =>
    fc.assert(
      fc.property(
        fc.record({
          viewportWidth: fc.integer({ min: 240, max: 4000 }),
          viewportHeight: fc.integer({ min: 240, max: 4000 }),
          phone: fc.boolean(),
          cpuSlowdown: fc.integer({ min: 1, max: 20 }),
        }),
        fc.oneof(
          fc.constantFrom(...NETWORK_CHOICES.map(({ network }) => network)),
          fc.record({ latencyMs: fc.nat(5000), downKbps: fc.nat(1e6), upKbps: fc.nat(1e6) }),
        ),
        fc.constantFrom('cold' as const, 'warm' as const),
        fc.constantFrom(
          null,
          { answer: 'agreed' as const, by: 'press' as const, selector: '#yes', name: 'Yes' },
          {
            answer: 'refused' as const,
            by: 'press' as const,
            selector: '#keep',
            name: 'Save',
            first: { selector: '#more', name: 'Settings' },
            off: ['#count', '#ask -> #follow'],
          },
          { answer: 'refused' as const, by: 'cookie' as const, cookie: 'asked=no' },
          { answer: 'agreed' as const, by: 'storage' as const, key: 'asked', value: '' },
        ),
        (device, network, cache, consent) => {
          const input = inputOf(valuesOf(lens({ device, network, cache, consent }), true))
          expect(input).toEqual({ name: 'Desk', device, network, cache, visitor: { kind: 'signed-out' }, consent })
        },
      ),
    ))

  it('whose network shares its latency with a usual one has figures of its own all the same', () => {
    const network = { latencyMs: 60, downKbps: 1_000, upKbps: 100 }
    expect(valuesOf(lens({ network }), false)).toMatchObject({ name: '', network: OWN_NETWORK, down: 1_000, up: 100 })
    expect(valuesOf(lens({ network: NETWORK_CHOICES[1]!.network }), false).network).toBe('4g')
  })
})

describe('who looks', () => {
  const byForm = valuesOf(lens({ visitor: 'form', role: 'editor', signInPage: '/in', signInPath: '/session' }), true)
  const answer = (name: string, value: string) => ({ name, label: name, secret: name === 'word', value })

  it('is sent with what was filled in on the page’s form', () =>
    expect(visitorOf({ ...byForm, answers: [answer('who', 'ash'), answer('word', 'w')] })).toEqual({
      kind: 'form',
      role: 'editor',
      page: '/in',
      path: '/session',
      fields: { who: 'ash', word: 'w' },
    }))

  it('switches nothing off for whoever agrees, though some was entered before', () => {
    const consent = {
      answer: 'refused' as const,
      by: 'press' as const,
      selector: '#keep',
      name: 'Save',
      off: ['#count'],
    }
    const values = valuesOf(lens({ consent }), true)
    expect(inputOf(values).consent).toEqual(consent)
    expect(inputOf({ ...values, consent: 'agreed' }).consent).not.toHaveProperty('off')
  })

  it('is sent without what was left empty, which is kept then', () => {
    expect(visitorOf({ ...byForm, answers: [answer('who', ''), answer('word', '')] })).not.toHaveProperty('fields')
    expect(visitorOf({ ...byForm, visitor: 'cookie' })).toEqual({ kind: 'cookie', role: 'editor' })
  })

  it('can be described by hand, and then no page is read', () => {
    const byHand = valuesOf(lens({ visitor: 'form', role: 'x', signInPage: null, signInPath: '/session' }), true)
    expect(byHand.byHand).toBe(true)
    expect(visitorOf({ ...byHand, fields: 'a=1&b=%C3%A4' })).toEqual({
      kind: 'form',
      role: 'x',
      path: '/session',
      fields: { a: '1', b: 'ä' },
    })
  })
})

it('a lens is said in one line, with what is unusual about it', () => {
  expect(lensWords(lens())).toBe('desk 1280 × 800, network as it is')
  expect(
    lensWords(
      lens({
        device: { viewportWidth: 390, viewportHeight: 844, phone: true, cpuSlowdown: 4 },
        network: { latencyMs: 150, downKbps: 1_600, upKbps: 750 },
        visitor: 'cookie',
        role: 'member',
        cache: 'warm',
      }),
    ),
  ).toBe('phone 390 × 844, processor slowed 4 times, 150\u00a0ms and 1.6\u00a0Mbit/s, signed in as member, second view')
})
