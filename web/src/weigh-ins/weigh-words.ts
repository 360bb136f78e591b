import type { ProofFigure, WeighedPage } from '@unvelt/contract'
import { bytes, count, MEASURE_WORDS, milliseconds, plural, signed } from '../figures/format.js'

interface Words {
  name: string
  long: (value: number) => string
  /** Takes a value to a figure, its unit left out where the row's name says it. */
  figure: (value: number) => string
}

const counted = (name: string): Words => ({ name, long: count, figure: count })
const timed = (name: string): Words => ({ name, long: milliseconds, figure: milliseconds })
const sized = (name: string): Words => ({ name, long: bytes, figure: bytes })

/** What variants are compared by, in the words of the rest. */
export const WEIGHED_WORDS: Record<string, Words> = {
  requests: counted('Requests'),
  transferBytes: sized('Transfer'),
  decodedBytes: sized('Decoded'),
  idleBytes: sized('Idle'),
  elements: counted('Elements'),
  outsiders: counted('Outsiders’ hosts'),
  errors: counted('Complaints'),
  serverMs: timed('Server time'),
  queries: counted('Queries'),
  peakMemoryBytes: sized('Memory on the server'),
  firstByteMs: timed('First byte'),
  firstPaintMs: timed('First paint'),
  largestPaintMs: timed('Largest paint'),
  layoutShift: { name: 'Layout shift', long: (value) => value.toFixed(3), figure: (value) => value.toFixed(3) },
  mainThreadMs: timed('Main thread'),
  blockingMs: timed('Blocking time'),
  loadMs: timed('Load event'),
}

/** Whether there is more to be said than that nothing was measured to differ. */
const differs = ({ difference, word }: ProofFigure) =>
  difference !== null && difference !== 0 && (word === 'better' || word === 'worse')

const more = (value: number, words: string) => `${words} ${value > 0 ? 'more' : 'less'}`

/** In a sentence what one variant costs beside the first. */
export function differenceWords({ figures }: WeighedPage, variant: number): string {
  const said = (measure: string, words: (value: number) => string) => {
    const figure = figures[measure]?.[variant]
    return figure && differs(figure) ? [more(figure.difference!, words(Math.abs(figure.difference!)))] : []
  }
  const parts = [
    ...said('requests', (v) => plural(Math.round(v), 'request')),
    ...said('transferBytes', bytes),
    ...said('queries', MEASURE_WORDS.queries.long),
    ...said('serverMs', (v) => `${milliseconds(v)} on the server`),
    ...said('mainThreadMs', (v) => `${milliseconds(v)} of the main thread`),
  ]
  return parts.length === 0 ? 'nothing that could be measured' : parts.join(', ')
}

/** What one payer costs more or less, in a few words. */
export function payerWords({ name, requests, transferBytes }: WeighedPage['looks'][number]['payers'][number]): string {
  const parts = [
    requests !== 0 && signed(requests, (n) => plural(n, 'request')),
    transferBytes !== 0 && signed(transferBytes, bytes),
  ].filter(Boolean)
  return `${name} ${parts.join(', ')}`
}
