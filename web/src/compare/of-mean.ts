import type { Measure } from '@unvelt/contract'
import { bytes, milliseconds } from '../figures/format.js'

const tenth = new Intl.NumberFormat('en-GB', { minimumFractionDigits: 1, maximumFractionDigits: 1 })

/** A measure of the mean page: counts have a tenth, as means do. */
export const ofMean = (measure: Measure): ((value: number) => string) =>
  measure.endsWith('Bytes') ? bytes : measure.endsWith('Ms') ? milliseconds : (value) => tenth.format(value)
