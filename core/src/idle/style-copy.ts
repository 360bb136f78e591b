import { withAddresses } from '../rewrite/css-addresses.js'

/**
 * A stylesheet as it can be served from any path of the site: what it names by an address relative to its own place is named from
 * the site's root (CSS Values 4, section 4.5.1), and by the whole address where the file is on another host. A source map tells
 * of other lines than these, so it is named no more.
 * @param address Where the file stands.
 * @param origin Of the site.
 */
export function styleForCopy(css: string, address: string, origin: string): string {
  const base = new URL(address).href
  return withAddresses(css.replace(SOURCE_MAP, ''), (named) => {
    // A fragment is one of the page's or of the style's own, and neither moves.
    if (named.startsWith('#') || /^[a-z][a-z0-9+.-]*:/i.test(named) || !URL.canParse(named, base)) return null
    const url = new URL(named, base)
    return url.origin === origin ? url.pathname + url.search + url.hash : url.href
  })
}

const SOURCE_MAP = /\/\*[#@]\s*sourceMappingURL=[^*]*\*\//g
