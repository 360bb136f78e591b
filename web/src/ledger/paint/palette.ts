import {
  formatHex,
  formatHex8,
  interpolate,
  modeLrgb,
  modeOklab,
  modeRgb,
  useMode as speak,
  wcagContrast,
} from 'culori/fn'
import type { Look } from '../../frame/look.js'

// Only the colour spaces that are used here come along.
const toRgb = speak(modeRgb)
speak(modeLrgb)
speak(modeOklab)

const STOPS = 4
/** So many shades can't be told apart any more. */
const SHADES = 48
/** Figures on the ramp: the lighter or the darker, whichever stands out more. */
const FIGURES = ['#fffdf8', '#000000']

/** The colours that cells are painted with in one look. */
export interface Palette {
  /** Of the ramp from straw to umber, each with the colour of the figures on it. */
  shades: readonly Shade[]
  paper: string
  line: string
  ink: string
  nothing: string
  hatching: string
}

export interface Shade {
  ground: string
  figure: string
}

/** The palette of a look, by the colours that its style sheet names. */
export function paletteOf(colour: (name: string) => string): Palette {
  const stops = Array.from({ length: STOPS }, (_, n) => colour(`--ramp-${n + 1}`))
  const ramp = interpolate(stops, 'oklab')
  return {
    shades: Array.from({ length: SHADES + 1 }, (_, step) => {
      const ground = formatHex(ramp(step / SHADES))
      const [light, dark] = FIGURES.map((each) => wcagContrast(ground, each))
      return { ground, figure: FIGURES[light! > dark! ? 0 : 1]! }
    }),
    paper: colour('--paper'),
    line: colour('--line'),
    ink: colour('--ink'),
    nothing: seeThrough(colour('--soft'), 0.6),
    hatching: seeThrough(colour('--verdigris'), 0.55),
  }
}

const seeThrough = (colour: string, alpha: number): string => formatHex8({ ...toRgb(colour)!, alpha })

/**
 * The shade of a toll: how far along the ramp from straw to umber, by square root so that small tolls can still be told
 * apart.
 */
export function shadeOf({ shades }: Palette, value: number, most: number): Shade {
  return shades[most > 0 ? Math.round(Math.sqrt(Math.min(1, value / most)) * SHADES) : 0]!
}

const kept = new Map<Look, Palette>()

/** The palette of the look that is on. */
export function paletteNow(look: Look): Palette {
  const known = kept.get(look)
  if (known) return known
  const style = getComputedStyle(document.documentElement)
  const palette = paletteOf((name) => style.getPropertyValue(name).trim())
  kept.set(look, palette)
  return palette
}
