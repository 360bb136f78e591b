import type { ComparedPayer } from '@unvelt/contract'

/** Times are never twice the same, so they alone put nobody on the list. */
export const isChanged = ({ then, now, change }: ComparedPayer): boolean =>
  change !== null ||
  (['requests', 'transferBytes', 'idleBytes', 'queries'] as const).some(
    (measure) => Math.abs(now[measure] - then[measure]) >= (measure.endsWith('Bytes') ? 1 : 0.05),
  )
