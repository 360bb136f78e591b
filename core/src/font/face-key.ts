/**
 * By what one face of a family is told from the others: its weights (a number, or a span of them) and whether it is slanted
 * (CSS Fonts 4, sections 2.2 to 2.4). Words are taken as the numbers that they mean.
 */
export function faceKey(family: string, weight = '', style = ''): string {
  const weights = weight
    .toLowerCase()
    .replace(/\bnormal\b/g, '400')
    .replace(/\bbold\b/g, '700')
    .trim()
    .split(/\s+/)
    .filter((word) => /^\d+(?:\.\d+)?$/.test(word))
    .map(Number)
  const [least = 400, most = least] = weights
  const slant = /^\s*(italic|oblique)/i.exec(style)?.[1]!.toLowerCase() ?? 'normal'
  return `${family.replace(/^["']|["']$/g, '').toLowerCase()} ${least}${most === least ? '' : `–${most}`} ${slant}`
}
