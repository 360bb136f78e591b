import type { FontStandIn } from '../rule/rule.js'

/** What a font file says of the room that its text takes. In units of one em. */
export interface FontMetrics {
  /** Above and below the base line, and between lines; all positive. */
  ascent: number
  descent: number
  lineGap: number
  /** Advance widths of `a` to `z` and of the space, in this order. */
  advances: readonly number[]
  serif: boolean
  monospace: boolean
}

/** A face as a style declares it. */
export interface DeclaredFace {
  family: string
  /** `400`, or `200 900` of a variable font. */
  weight: string
  style: 'normal' | 'italic'
}

/**
 * How often each letter stands in running text, and the space: per cent of all signs (letters by Lewand, Cryptological Mathematics,
 * 2000, table 1.1, with one space to 4.7 of them). Other languages differ by a few hundredths of the width at most, since both
 * fonts are weighed alike.
 */
const SHARES = [
  8.2, 1.5, 2.8, 4.3, 12.7, 2.2, 2.0, 6.1, 7.0, 0.15, 0.77, 4.0, 2.4, 6.7, 7.5, 1.9, 0.095, 6.0, 6.3, 9.1, 2.8, 0.98,
  2.4, 0.15, 2.0, 0.074, 21.3,
]

/** Advance widths of `a` to `z` and the space in thousandths of an em (Adobe Core 14 font metrics). */
const SANS = [556, 556, 500, 556, 556, 278, 556, 556, 222, 222, 500, 222, 833, 556, 556, 556, 556, 333, 500, 278, 556, 500, 722, 500, 500, 500, 278] // prettier-ignore
const SANS_BOLD = [556, 611, 556, 611, 556, 333, 611, 611, 278, 278, 556, 278, 889, 611, 611, 611, 611, 389, 556, 333, 611, 556, 778, 556, 556, 500, 278] // prettier-ignore
const SERIF = [444, 500, 444, 500, 444, 333, 500, 500, 278, 278, 500, 278, 778, 500, 500, 500, 500, 333, 389, 278, 500, 500, 722, 500, 500, 444, 250] // prettier-ignore
const SERIF_BOLD = [500, 556, 444, 556, 444, 333, 500, 556, 278, 333, 556, 278, 833, 556, 500, 556, 556, 444, 389, 333, 556, 500, 722, 500, 500, 444, 250] // prettier-ignore
const SERIF_ITALIC = [500, 500, 444, 500, 444, 278, 500, 500, 278, 278, 444, 278, 722, 500, 500, 500, 500, 389, 389, 278, 500, 444, 667, 444, 444, 389, 250] // prettier-ignore
const SERIF_BOLD_ITALIC = [500, 500, 444, 500, 444, 333, 500, 556, 278, 278, 500, 278, 778, 556, 500, 500, 500, 389, 389, 278, 556, 444, 667, 500, 444, 389, 250] // prettier-ignore
const MONOSPACE = SHARES.map(() => 600)

/** Families that systems have and that take the same room as each other. */
const FAMILIES = {
  sans: ['Arial', 'Liberation Sans', 'Helvetica', 'Arimo'],
  serif: ['Times New Roman', 'Liberation Serif', 'Times', 'Tinos'],
  monospace: ['Courier New', 'Liberation Mono', 'Courier', 'Cousine'],
}
const BOLD_FROM = 600

/** The mean advance of running text, in em. */
export const meanAdvance = (advances: readonly number[]): number =>
  advances.reduce((sum, advance, n) => sum + advance * SHARES[n]!, 0) / SHARES.reduce((sum, share) => sum + share, 0)

/**
 * The system's font that stands in for a face and takes as much room: it is drawn larger or smaller until its mean letter is as
 * wide (`size-adjust`), and has the face's own ascent, descent and line gap, which count in the adjusted em (CSS Fonts 5, sections
 * 2 and 3).
 * @returns Null for a font without the letters `a` to `z`, such as one of signs: nothing can stand in for it.
 */
export function standInFor({ family, weight, style }: DeclaredFace, font: FontMetrics): FontStandIn | null {
  const wide = meanAdvance(font.advances)
  if (font.advances.length !== SHARES.length || font.advances.some((advance) => !(advance > 0))) return null
  const isBold = Number(weight.split(' ')[0]) >= BOLD_FROM
  const isItalic = style === 'italic'
  const [families, widths] = font.monospace
    ? ([FAMILIES.monospace, MONOSPACE] as const)
    : font.serif
      ? ([FAMILIES.serif, serifWidths(isBold, isItalic)] as const)
      : ([FAMILIES.sans, isBold ? SANS_BOLD : SANS] as const)
  const scale = wide / (meanAdvance(widths) / 1000)
  const percent = (value: number) => Math.round(value * 10_000) / 100
  return {
    family,
    weight,
    style,
    // `local()` takes full names, so a bold text needs the name of the bold font.
    local: families.map((name) => [name, isBold && 'Bold', isItalic && 'Italic'].filter(Boolean).join(' ')),
    size: percent(scale),
    ascent: percent(font.ascent / scale),
    descent: percent(font.descent / scale),
    lineGap: percent(font.lineGap / scale),
  }
}

const serifWidths = (isBold: boolean, isItalic: boolean) =>
  isBold ? (isItalic ? SERIF_BOLD_ITALIC : SERIF_BOLD) : isItalic ? SERIF_ITALIC : SERIF
