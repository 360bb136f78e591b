const STOPS = 4
/** So many shades can't be told apart any more; each is a class, which a browser styles faster than a colour a cell. */
const SHADES = 48
/** Figures on the ramp, light and dark: which of the two keeps 4.5 : 1 from where on is another in each look. */
const FIGURES = { light: '#fffdf8', dark: '#0a0d14' }
const TURNS = { light: 2.05 / (STOPS - 1), dark: 1.6 / (STOPS - 1) }

/**
 * The shade of a toll: how far along the ramp from straw to umber, by square root so that small tolls can still be told
 * apart. Returns a class; none for nothing.
 */
export function shade(value: number, most: number): string | undefined {
  if (value <= 0 || most <= 0) return undefined
  return `shade-${Math.round(Math.sqrt(Math.min(1, value / most)) * SHADES)}`
}

/** The classes, by the ramp of the look that is on: straw to umber on paper, the other way round in the dark. */
function shadeStyles(): string {
  return Array.from({ length: SHADES + 1 }, (_, step) => {
    const share = step / SHADES
    const lower = Math.min(STOPS - 2, Math.floor(share * (STOPS - 1)))
    const mixed = Math.round((share * (STOPS - 1) - lower) * 100)
    const onPaper = share > TURNS.light ? FIGURES.light : FIGURES.dark
    const inTheDark = share > TURNS.dark ? FIGURES.dark : FIGURES.light
    return `.shade-${step}{background:color-mix(in oklab,var(--ramp-${lower + 2}) ${mixed}%,var(--ramp-${lower + 1}));color:${onPaper}}
[data-look='dark'] .shade-${step}{color:${inTheDark}}`
  }).join('\n')
}

if (typeof document !== 'undefined') {
  const style = document.createElement('style')
  style.textContent = shadeStyles()
  document.head.append(style)
}
