const STOPS = 4

/**
 * The shade of a toll: how far along the ramp from straw to umber, by square root so that small tolls can still be told
 * apart. Returns the colours of cell and figure.
 */
export function shade(value: number, most: number): { background: string; color: string } | null {
  if (value <= 0 || most <= 0) return null
  const at = Math.sqrt(Math.min(1, value / most)) * (STOPS - 1)
  const lower = Math.min(STOPS - 2, Math.floor(at))
  const share = Math.round((at - lower) * 100)
  return {
    background: `color-mix(in oklab, var(--ramp-${lower + 2}) ${share}%, var(--ramp-${lower + 1}))`,
    // From the third stop on the ramp is too close to the ink.
    color: at > 1.6 ? 'var(--sheet)' : 'var(--ink)',
  }
}
