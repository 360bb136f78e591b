import type { ConsentCost, ConsentSide } from '@unvelt/contract'
import { consentSentence as sentenceOf } from '../src/consent/consent-words.js'

const side = (name: ConsentSide['side'], requests: number, hosts: string[], failure: string | null = null) => ({
  side: name,
  requests,
  transferBytes: requests * 1_000,
  outsiders: hosts.map((host) => ({ host, requests: 1, transferBytes: 500 })),
  failure,
})
const cost = (...sides: ConsentSide[]): ConsentCost => ({
  state: 'done',
  path: '/about',
  phone: false,
  failure: null,
  takenAt: null,
  banner: null,
  sides,
})

// A figure and its unit stay together on a line.
const consentSentence = (of: ConsentCost) => sentenceOf(of)?.replaceAll('\u00a0', ' ') ?? null

it('says what agreeing costs, and how many are asked before', () => {
  expect(consentSentence(cost(side('before', 20, ['a.example']), side('agreed', 32, ['a.example', 'b.example'])))).toBe(
    'For visitors who agree /about makes 12 requests and 12.0 KB more; 1 outside host is asked before anybody has agreed.',
  )
  expect(consentSentence(cost(side('before', 20, []), side('agreed', 20, [])))).toBe(
    'For visitors who agree /about makes no request more; no outsider is asked before anybody has agreed.',
  )
})

it('says nothing where an answer could not be looked at', () => {
  expect(consentSentence(cost(side('before', 20, [])))).toBeNull()
  expect(consentSentence(cost(side('before', 20, []), side('agreed', 0, [], 'The page crashed.')))).toBeNull()
})
