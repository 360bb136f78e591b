import type { Measure } from '@unvelt/contract'
import { MEASURE_WORDS, percent, withUnit } from '../figures/format.js'
import { VISITS, type Basis } from './weighing.js'

/** How a figure of a measure is written on a basis: in a cell, and with its unit. */
export interface FigureWords {
  unit: string
  short(value: number): string
  long(value: number): string
}

const tenths = (value: number) => (value < 0.0005 ? '' : `${(value * 100).toFixed(value < 0.1 ? 1 : 0)}`)

export function figureWords(measure: Measure, basis: Basis): FigureWords {
  const { unit, short, long } = MEASURE_WORDS[measure]
  if (basis === 'share') return { unit: '% of page', short: tenths, long: percent }
  if (basis === 'measured') return { unit: unit || 'count', short, long }
  const large = measure.endsWith('Bytes') ? 1e6 : measure.endsWith('Ms') ? 1e3 : 1
  const largeUnit = measure.endsWith('Bytes') ? 'MB' : measure.endsWith('Ms') ? 's' : 'count'
  const figure = (value: number) => {
    const size = value / large
    return size === 0 ? '0' : size < 10 ? size.toFixed(1) : Math.round(size).toLocaleString('en')
  }
  return {
    unit: `${largeUnit} of ${VISITS.toLocaleString('en')} page views`,
    short: (value) => (value / large < 0.05 ? '' : figure(value)),
    long: (value) => {
      const told = value > 0 && value / large < 0.05 ? 'under 0.1' : figure(value)
      return `${largeUnit === 'count' ? told : withUnit(told, largeUnit)} of ${VISITS.toLocaleString('en')} page views`
    },
  }
}
