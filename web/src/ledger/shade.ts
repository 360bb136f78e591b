const STOPS = 4
/** So many shades can't be told apart any more; each is a class, which a browser styles faster than a colour a cell. */
const SHADES = 48
/** From here on the ramp is too close to the ink. */
const LIGHT_FROM = 1.6 / (STOPS - 1)

/**
 * The shade of a toll: how far along the ramp from straw to umber, by square root so that small tolls can still be told
 * apart. Returns a class; none for nothing.
 */
export function shade(value: number, most: number): string | undefined {
  if (value <= 0 || most <= 0) return undefined
  return `shade-${Math.round(Math.sqrt(Math.min(1, value / most)) * SHADES)}`
}

/** The classes, by the ramp of the look that is on. */
function shadeStyles(): string {
  return Array.from({ length: SHADES + 1 }, (_, step) => {
    const at = (step / SHADES) * (STOPS - 1)
    const lower = Math.min(STOPS - 2, Math.floor(at))
    const share = Math.round((at - lower) * 100)
    const color = step / SHADES > LIGHT_FROM ? 'var(--sheet)' : 'var(--ink)'
    return `.shade-${step}{background:color-mix(in oklab,var(--ramp-${lower + 2}) ${share}%,var(--ramp-${lower + 1}));color:${color}}`
  }).join('\n')
}

if (typeof document !== 'undefined') {
  const style = document.createElement('style')
  style.textContent = shadeStyles()
  document.head.append(style)
}
