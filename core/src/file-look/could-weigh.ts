/** What a script or style weighs on the wire, and what it was made into; bytes of its body. */
export interface WeighedFile {
  /** As it came. */
  bytes: number
  /** The way in which it came packed: `gzip`, `br`, `deflate`, or nothing. */
  encoding: string
  /** Unpacked. */
  plain: number
  /** As it is, packed at a server's usual levels. */
  gzip: number
  brotli: number
  /** Minified, and so packed; null where it could not be minified. */
  minified: { plain: number; gzip: number; brotli: number } | null
}

/** What would be spared of a file's body, in bytes: by packing it, and beyond that by minifying it. */
export interface CouldWeigh {
  /** What is left of it with both. */
  bytes: number
  byPacking: number
  byMinifying: number
}

/** Minifying that takes less than this share of the code off means that it has been done. */
const DONE_SHARE = 0.05

export const isMinified = ({ plain, minified }: Pick<WeighedFile, 'plain' | 'minified'>): boolean =>
  minified !== null && minified.plain >= plain * (1 - DONE_SHARE)

/** Whether nothing of a file runs as it comes: all of it is a comment, as when lines were joined behind one that ends with its line. */
export const isEmptied = ({ plain, minified }: Pick<WeighedFile, 'plain' | 'minified'>): boolean =>
  plain > 0 && minified?.plain === 0

/**
 * What a file could weigh. Packing counts first, since a server does it for all files at once; minifying is counted under the packing
 * that is the lightest then, so that the two add up and nothing is promised twice. What is minified already stays as it is, and of what is broken nothing is to be spared but by mending it.
 */
export function couldWeigh(file: WeighedFile): CouldWeigh {
  const packed = Math.min(file.bytes, file.gzip, file.brotli)
  const { minified } = file
  const least =
    minified && !isMinified(file) && !isEmptied(file) ? Math.min(packed, minified.gzip, minified.brotli) : packed
  return { bytes: least, byPacking: file.bytes - packed, byMinifying: packed - least }
}

/** A file name with the sum of its content in it, as `app.3f9c2a1b.js` or `app-B7kYz0Qd.css`: eight or more, a digit among them. */
const SUM_IN_NAME = /[.\-_](?=[\w-]*\d)(?:[0-9a-f]{8,}|[\w-]{8,12})\.(?:m?js|css)$/i
/** A query that changes with the content. */
const VERSION_KEYS = new Set(['v', 'ver', 'version', 'rev', 'hash'])

/** Whether a file's address changes whenever its content does, so that it may be kept for as long as anybody likes. */
export function hasFingerprint(address: string): boolean {
  if (!URL.canParse(address)) return false
  const { pathname, searchParams } = new URL(address)
  return (
    SUM_IN_NAME.test(pathname) ||
    [...searchParams].some(([key, value]) => VERSION_KEYS.has(key.toLowerCase()) && value !== '')
  )
}

/**
 * For how many seconds a browser keeps an answer without asking again (RFC 9111, section 5.2.2); null where it is left to the browser.
 */
export function keptSeconds(cacheControl: string | null): number | null {
  if (cacheControl === null) return null
  const said = cacheControl
    .toLowerCase()
    .split(',')
    .map((one) => one.trim())
  if (said.some((one) => one === 'no-store' || one === 'no-cache')) return 0
  const age = said.flatMap((one) => /^max-age="?(\d{1,10})"?$/.exec(one)?.[1] ?? [])[0]
  return age === undefined ? null : Number(age)
}
