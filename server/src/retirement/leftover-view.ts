import type { LeftoversAnswer, LeftoverView } from '@unvelt/contract'

/** A leftover as the site tells of it, or as it was written down at a time when less was told. */
export const leftoverView = (one: LeftoversAnswer['leftovers'][number] | LeftoverView): LeftoverView => ({
  ...one,
  rows: one.rows ?? null,
  path: one.path ?? null,
  because: one.because ?? [],
})
