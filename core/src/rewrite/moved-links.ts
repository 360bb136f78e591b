import { editableValue } from './page-text.js'
import type { Attribute, AttributeChange } from './tag-syntax.js'
import { linksOf } from './tag-table.js'

/** Seconds, and behind them the address to which a page sends its visitors on (HTML standard, section 4.2.5.3). */
const REFRESH = /^(\s*[\d.]*\s*[;,]?\s*(?:url\s*=\s*)?["']?)(.*)$/is

/**
 * What becomes of the attributes by which an element leads to another page.
 * @param change Gives what an address becomes; null leaves it as it is. Addresses are bytes as Latin-1 text, as they stand.
 */
export function movedLinks(
  name: string,
  attributes: readonly Attribute[],
  change: (address: string) => string | null,
): Record<string, AttributeChange> {
  const changes: Record<string, AttributeChange> = {}
  const valueOf = (wanted: string) => {
    const raw = attributes.find((attribute) => attribute.name === wanted)?.raw
    return raw === undefined ? null : editableValue(raw)
  }
  if (name === 'meta') {
    const content = /^\s*refresh\s*$/i.test(valueOf('http-equiv') ?? '') ? valueOf('content') : null
    const [, before, address] = content === null ? [] : (REFRESH.exec(content) ?? [])
    const to = address ? change(address) : null
    return to === null ? changes : { content: { value: before! + to } }
  }
  for (const attribute of linksOf(name)) {
    const address = valueOf(attribute)
    const to = address === null ? null : change(address)
    if (to !== null) changes[attribute] = { value: to }
  }
  return changes
}
