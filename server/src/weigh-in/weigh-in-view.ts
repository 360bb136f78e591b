import { median, WEIGHED, type WeighFigures, type Weighed } from '@unvelt/core'
import type { ProofFigure, VariantCost } from '@unvelt/contract'
import { compared } from '../proof/compared.js'

/** What one reading of a variant told. */
export interface VariantReading {
  pageId: number
  /** Which variant, in their order. */
  variant: number
  figures: WeighFigures
}

const valuesOf = (readings: readonly VariantReading[], pageId: number, variant: number, measure: Weighed): number[] =>
  readings.flatMap((reading) =>
    reading.pageId === pageId && reading.variant === variant ? (reading.figures[measure] ?? []) : [],
  )

/**
 * All figures of all pages and variants, each variant held against the first, judged together, so that chance has no more of
 * many figures for itself than of one. @returns by page, by measure, one a variant.
 */
export function weighedFigures(
  readings: readonly VariantReading[],
  pageIds: readonly number[],
  variants: number,
  leastShare: number,
): Record<string, ProofFigure[]>[] {
  const sides = pageIds.flatMap((pageId) =>
    WEIGHED.flatMap((measure) =>
      Array.from({ length: variants }, (_, variant) => ({
        measure,
        before: valuesOf(readings, pageId, 0, measure),
        // Nothing is held against itself: what is told of it is what was read.
        after: variant === 0 ? [] : valuesOf(readings, pageId, variant, measure),
      })),
    ),
  )
  const figures = compared(sides, leastShare)
  return pageIds.map((_, p) =>
    Object.fromEntries(
      WEIGHED.map((measure, m) => {
        const at = (p * WEIGHED.length + m) * variants
        return [measure, figures.slice(at, at + variants).map((figure, v) => (v === 0 ? itself(figure) : figure))]
      }),
    ),
  )
}

/** What the first variant costs, beside nothing. */
function itself(figure: ProofFigure): ProofFigure {
  const values = figure.beforeReadings
  const own = values.length === 0 ? null : median(values)
  return { ...figure, before: own, after: own, afterReadings: values, word: '' }
}

/** What a page costs on the average of those that were read under every variant. */
export function variantCosts(
  readings: readonly VariantReading[],
  pageIds: readonly number[],
  variants: number,
): VariantCost[] {
  const all = Array.from({ length: variants }, (_, variant) => variant)
  const mean = (variant: number, measure: Weighed): number | null => {
    const read = pageIds.filter((page) => all.every((v) => valuesOf(readings, page, v, measure).length > 0))
    if (read.length === 0) return null
    return read.reduce((sum, page) => sum + median(valuesOf(readings, page, variant, measure)), 0) / read.length
  }
  return all.map((variant) => ({
    requests: mean(variant, 'requests'),
    transferBytes: mean(variant, 'transferBytes'),
    serverMs: mean(variant, 'serverMs'),
  }))
}
