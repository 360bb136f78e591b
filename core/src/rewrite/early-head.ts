import type { EarlyHost, FontStandIn } from '../rule/rule.js'
import { escapeValue } from './tag-syntax.js'

/** Links by which a page connects to hosts early (HTML standard, section 4.6.8.15). */
export const earlyLinks = (hosts: readonly EarlyHost[]): string => [...new Set(hosts.map(linkTo))].join('')

/** Links by which pictures that no tag names are asked for before others (HTML standard, section 4.6.8.18). */
export const aheadLinks = (files: readonly string[]): string =>
  [...new Set(files)]
    .map((file) => `<link rel="preload" as="image" href="${escapeValue(file)}" fetchpriority="high">`)
    .join('')

const linkTo = ({ origin, cors, nameOnly }: EarlyHost): string =>
  nameOnly
    ? `<link rel="dns-prefetch" href="${escaped(origin)}">`
    : `<link rel="preconnect" href="${escaped(origin)}"${cors ? ' crossorigin' : ''}>`

const escaped = (text: string) => text.replace(/["&<]/g, encodeURIComponent)

/**
 * A style by which fonts of the system stand in for families that are not loaded, and take as much room (CSS Fonts 4, section 4,
 * and CSS Fonts 5, sections 2 and 3). Empty without any.
 */
export const standInStyle = (fonts: readonly FontStandIn[]): string =>
  fonts.length === 0 ? '' : `<style>${[...new Set(fonts.map(faceOf))].join('')}</style>`

function faceOf({ family, weight, style, local, size, ascent, descent, lineGap }: FontStandIn): string {
  const percent = (value: number) => `${Math.round(value * 100) / 100}%`
  return (
    `@font-face{font-family:${quoted(family)};` +
    (weight === undefined ? 'font-weight:1 1000;' : `font-weight:${weight};`) +
    `font-style:${style ?? 'normal'};` +
    `src:${local.map((name) => `local(${quoted(name)})`).join(',')};` +
    `size-adjust:${percent(size)};ascent-override:${percent(ascent)};` +
    `descent-override:${percent(descent)};line-gap-override:${percent(lineGap)}}`
  )
}

/** In ASCII, since a page may be of any encoding (CSS Syntax 3, section 4.3.7). */
const quoted = (name: string) =>
  `"${name.replace(/["\\<>\p{Cc}]/gu, '').replace(/[^\x20-\x7e]/gu, (sign) => `\\${sign.codePointAt(0)!.toString(16)} `)}"`
