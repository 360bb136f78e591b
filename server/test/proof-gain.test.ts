import 'reflect-metadata'
import type { ProofFigure, ProofPage } from '@unvelt/contract'
import { proofGain } from '../src/proof/proof-gain.js'

const figure = (difference: number | null, word: string) => ({ difference, word }) as ProofFigure
const page = (figures: Record<string, ProofFigure>) => ({ figures }) as unknown as ProofPage

it('means are of the pages that have the figure, and words are counted over all of them', () => {
  const gain = proofGain([
    page({ requests: figure(-4, 'better'), loadMs: figure(-200, 'better') }),
    page({ requests: figure(-2, 'better'), loadMs: figure(null, 'not read') }),
    page({ requests: figure(0, 'no measurable change'), transferBytes: figure(9, 'worse') }),
  ])
  expect(gain).toEqual({
    pages: 3,
    differences: { requests: -2, loadMs: -200, transferBytes: 9 },
    sure: ['requests', 'loadMs', 'transferBytes'],
    better: 3,
    worse: 1,
  })
})

it('of no page there is nothing to say', () => {
  expect(proofGain([])).toEqual({ pages: 0, differences: {}, sure: [], better: 0, worse: 0 })
})
