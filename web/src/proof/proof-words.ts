import type { Measure, ProofFigure } from '@unvelt/contract'
import { bytes, count, MEASURE_WORDS, milliseconds, signed } from '../figures/format.js'

interface Words {
  name: string
  long: (value: number) => string
}

const timed = (name: string): Words => ({ name, long: milliseconds })
/** What is no measure of the ledger. */
const OTHERS: Record<string, Words> = {
  elements: { name: 'Elements', long: count },
  outsiders: { name: 'Outsiders’ hosts', long: count },
  errors: { name: 'Complaints', long: count },
  peakMemoryBytes: { name: 'Memory on the server', long: bytes },
  firstByteMs: timed('First byte'),
  firstPaintMs: timed('First paint'),
  largestPaintMs: timed('Largest paint'),
  layoutShift: { name: 'Layout shift', long: (value) => value.toFixed(3) },
  blockingMs: timed('Blocking time'),
  loadMs: timed('Load event'),
}

/** A measure of a proof, as it is spoken of. */
export const measureWords = (measure: string): Words =>
  Object.hasOwn(OTHERS, measure) ? OTHERS[measure]! : MEASURE_WORDS[measure as Measure]

/** The use of code is looked at once a side: no pair of single readings is given a word. */
const isReadOnce = ({ beforeReadings, afterReadings }: ProofFigure): boolean =>
  beforeReadings.length === 1 && afterReadings.length === 1

/** How sure a difference is, in a word. */
export const wordOf = (figure: ProofFigure): string =>
  isReadOnce(figure) ? 'read once' : figure.more > 0 ? `${figure.word}, ${figure.more} more a side` : figure.word

/** What is known of the difference's size; a dash where nothing is. */
export function intervalWords(figure: ProofFigure, long: (value: number) => string): string {
  const { low, high } = figure
  if (low === null || high === null || isReadOnce(figure)) return '–'
  if (low === high) return 'exact'
  const [from, to] = [signed(low, long), signed(high, long)]
  return from === to ? `close to ${from}` : `${from} to ${to}`
}
