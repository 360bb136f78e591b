/**
 * Every place where HTML names an address that a browser loads by itself, and what can be done there. The rewriter, the stopper
 * and the prediction all read this one table, so what is promised is what is carried out. By the HTML standard (sections 4.2.4,
 * 4.8 and 4.12.1, obsolete ones in 16.3) and SVG 2 (section 16.1).
 */
export interface AddressPlace {
  attribute: string
  /** Several addresses with descriptors, as in `srcset`. */
  isList?: true
  /**
   * What goes where the address may not be loaded: the element with all in it, where it is nothing without the address, or
   * only the attribute, where the rest still serves (an object's fallback, a form's button).
   */
  goes: 'element' | 'attribute'
  /** It can be kept from loading until later. */
  canWait: boolean
}

const place = (attribute: string, goes: AddressPlace['goes'] = 'element'): AddressPlace => ({
  attribute,
  goes,
  canWait: true,
})
const list = (attribute: string): AddressPlace => ({ ...place(attribute), isList: true })
const BACKGROUND: AddressPlace = { ...place('background', 'attribute'), canWait: false }
const LINKS = [place('href', 'attribute'), place('xlink:href', 'attribute')]

const OF_HTML: Record<string, readonly AddressPlace[]> = {
  script: [place('src')],
  link: [place('href'), list('imagesrcset')],
  iframe: [place('src')],
  frame: [place('src', 'attribute')],
  img: [place('src'), list('srcset')],
  source: [place('src'), list('srcset')],
  track: [place('src')],
  embed: [place('src')],
  video: [place('src', 'attribute'), place('poster', 'attribute')],
  audio: [place('src', 'attribute')],
  object: [place('data', 'attribute')],
  input: [place('src', 'attribute')],
  ...Object.fromEntries(
    ['body', 'table', 'thead', 'tbody', 'tfoot', 'tr', 'td', 'th'].map((name) => [name, [BACKGROUND]]),
  ),
}
const OF_SVG: Record<string, readonly AddressPlace[]> = {
  // Browsers don't read `src` here; who wrote it meant it.
  script: [place('href'), place('xlink:href'), place('src')],
  image: LINKS,
  use: LINKS,
  feimage: LINKS,
}
const NONE: readonly AddressPlace[] = []
const PLACES = { html: new Map(Object.entries(OF_HTML)), svg: new Map(Object.entries(OF_SVG)) }

/** The places of an element, by its name in small letters. */
export function addressPlaces(name: string, isForeign: boolean): readonly AddressPlace[] {
  return (isForeign ? PLACES.svg : PLACES.html).get(name) ?? NONE
}

/** Elements that the scanner has to find for the table's sake; `style` and `background` it finds by themselves. */
export const WITH_ADDRESSES: readonly string[] = [
  ...new Set([...Object.keys(OF_HTML).filter((name) => !OF_HTML[name]!.includes(BACKGROUND)), ...Object.keys(OF_SVG)]),
]

/** Elements that load nothing by themselves and lead to another page, and the attributes that say where. */
const LINKING: ReadonlyMap<string, readonly string[]> = new Map([
  ['a', ['href', 'xlink:href']],
  ['area', ['href']],
  ['base', ['href']],
  ['form', ['action']],
  ['button', ['formaction']],
  ['input', ['formaction']],
  ['meta', ['content']],
])
export const LEADING_ON: readonly string[] = [...LINKING.keys()]
export const linksOf = (name: string): readonly string[] => LINKING.get(name) ?? []

/** Elements with an end tag whose content is nothing without their address. */
export const WITH_CONTENT: ReadonlySet<string> = new Set(['script', 'style', 'iframe'])

/** Words in a link's `rel` that only announce what something else will need. */
const ANNOUNCES = new Set(['preload', 'modulepreload', 'prefetch', 'preconnect', 'dns-prefetch'])
/** And those by which the link itself loads something. */
const SIGNS = new Set(['icon', 'apple-touch-icon', 'apple-touch-icon-precomposed', 'mask-icon'])

/** What a link is for: a stylesheet, an announcement, the site's sign, its manifest, or nothing that loads. */
export function linkKind(rel: string): 'style' | 'hint' | 'sign' | 'manifest' | null {
  const words = rel.toLowerCase().split(/[\t\n\f\r ]+/)
  if (words.includes('stylesheet')) return 'style'
  if (words.some((word) => ANNOUNCES.has(word))) return 'hint'
  if (words.some((word) => SIGNS.has(word))) return 'sign'
  return words.includes('manifest') ? 'manifest' : null
}

/** Element → the attributes by which a script that makes one can load something; what only the oldest pages do is not in it. */
export function stoppedAttributes(): Record<string, string[]> {
  const all: Record<string, string[]> = {}
  for (const table of [OF_HTML, OF_SVG])
    for (const [name, places] of Object.entries(table)) {
      if (places.includes(BACKGROUND)) continue
      const own = name === 'feimage' ? 'feImage' : name
      all[own] = [...new Set([...(all[own] ?? []), ...places.map(({ attribute }) => attribute)])]
    }
  return all
}
