import { addressBook } from './address-book.js'
import type { AttributionSources } from './sources.js'

/** Whose a file is by its address alone, which may be one of the page's own site; null where nobody claims it. */
export function payerAt(address: string, pageUrl: URL, sources: AttributionSources): string | null {
  if (!URL.canParse(address, pageUrl.href)) return null
  const url = new URL(address, pageUrl)
  const book = addressBook(sources)
  return book.byAddress(url)?.payer ?? (book.isOwn(url.host) ? null : (book.outsider(url).addon ?? null))
}
