import { AnyMap, decodedMappings, type SourceMapInput } from '@jridgewell/trace-mapping'
import { addressBook } from '../attribution/address-book.js'
import { ownFolderPayer } from '../attribution/evidence.js'
import { ownFolder } from '../attribution/own-folder.js'
import type { AttributionSources } from '../attribution/sources.js'

/** A run of a glued file that one source gave. Offsets are bytes of the uncompressed file. */
export interface MappedPart {
  /** Address of the source, resolved against the map's; null where the map names none. */
  source: string | null
  from: number
  bytes: number
}

/**
 * The parts of a glued file by its source map (ECMA-426), in order and without a gap: a piece of text belongs to the
 * mapping before it, across lines, and to nobody before the first one.
 *
 * @param json The map, sectioned or not.
 * @param text The glued file.
 * @throws Error where it is no source map.
 */
export function sourceMapParts(json: string, text: string, mapUrl: string): MappedPart[] {
  const parsed = JSON.parse(json) as Exclude<SourceMapInput, string>
  if (!isMap(parsed)) throw new Error('Expected a source map of version 3.')
  const map = AnyMap(parsed, mapUrl)
  const starts = lineStarts(text)
  const parts: MappedPart[] = []
  const bytes = byteOffsets(text)
  const begin = (offset: number, source: string | null) => {
    const last = parts.at(-1)
    if (last && last.source === source) return
    const from = bytes(offset)
    if (last) last.bytes = from - last.from
    // A mapping at the place of the one before it takes that one's place.
    if (last?.bytes === 0) parts.pop()
    if (parts.at(-1)?.source !== source) parts.push({ source, from, bytes: 0 })
  }
  begin(0, null)
  decodedMappings(map).forEach((segments, line) => {
    const start = starts[line]
    if (start === undefined) return
    const end = starts[line + 1] ?? text.length
    for (const [column, source] of segments)
      begin(Math.min(start + column, end), source === undefined ? null : (map.resolvedSources[source] ?? null))
  })
  const last = parts.at(-1)!
  last.bytes = bytes(text.length) - last.from
  return parts.filter((part) => part.bytes > 0)
}

/**
 * Whose the parts are: by the sources' own addresses, and on a site that tells nothing by their folders. Null where nobody is
 * known to be the owner of any.
 */
export function sharesOfParts(
  parts: readonly MappedPart[],
  sources: AttributionSources,
): { addon: string | null; from: number; bytes: number }[] | null {
  const book = addressBook(sources)
  const ownerOf = (source: string | null): string | null => {
    if (source === null || !URL.canParse(source)) return null
    const url = new URL(source)
    if (!/^https?:$/.test(url.protocol)) return null
    const charge = book.byAddress(url)
    if (charge) return charge.payer
    return sources.byOwnFolders && book.isOwn(url.host) ? ownFolderPayer(ownFolder(url.pathname)) : null
  }
  const shares = parts.map(({ source, from, bytes }) => ({ addon: ownerOf(source), from, bytes }))
  return shares.some(({ addon }) => addon !== null) ? shares : null
}

function isMap(value: unknown): boolean {
  if (typeof value !== 'object' || value === null) return false
  const { version, sources, mappings, sections } = value as Record<string, unknown>
  return version === 3 && (Array.isArray(sections) || (Array.isArray(sources) && typeof mappings === 'string'))
}

/** Where the lines of a text begin, by what ECMAScript takes for the end of one. */
function lineStarts(text: string): number[] {
  const starts = [0]
  for (const { index, 0: end } of text.matchAll(/\r\n|[\n\r\u2028\u2029]/g)) starts.push(index + end.length)
  return starts
}

/** Byte offsets of ever later places of a text. */
function byteOffsets(text: string): (offset: number) => number {
  let at = 0
  let bytes = 0
  return (place) => {
    // Half a surrogate pair counts from its beginning.
    const offset =
      /[\udc00-\udfff]/.test(text[place] ?? '') && /[\ud800-\udbff]/.test(text[place - 1] ?? '') ? place - 1 : place
    if (offset > at) {
      bytes += new TextEncoder().encode(text.slice(at, offset)).length
      at = offset
    }
    return bytes
  }
}
