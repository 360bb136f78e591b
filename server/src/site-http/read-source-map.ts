import { sourceMapParts, type MappedPart } from '@unvelt/core'
import type { Reach } from '../reach/reach.js'
import { boundedText, siteFetch } from './site-fetch.js'

const MOST_FILE_BYTES = 10e6
/** A mapping takes some twenty times as much memory as it has letters. */
const MOST_MAP_BYTES = 10e6
const AT_MOST_MS = 20_000
/** The last comment that names a map decides (ECMA-426, "Linking generated code to source maps"). */
const NAMED = /^[ \t]*(?:\/\/|\/\*)[#@][ \t]*sourceMappingURL=([^\s'"*]+)/gm

/**
 * The parts of a file by the source map that it names, by comment or header. Null where it names none, where the map lies on
 * another host than the file, or where it makes no sense.
 */
export async function readSourceMap(url: string, reach: Reach): Promise<MappedPart[] | null> {
  try {
    const signal = AbortSignal.timeout(AT_MOST_MS)
    const file = await siteFetch(url, { reach, signal })
    const text = await boundedText(file, MOST_FILE_BYTES)
    if (file.status !== 200) return null
    const named = file.headers.get('sourcemap') ?? [...text.matchAll(NAMED)].at(-1)?.[1]
    if (!named || !URL.canParse(named, url)) return null
    const at = new URL(named, url)
    if (at.protocol === 'data:') return sourceMapParts(await textOfData(at), text, url)
    if (at.host !== new URL(url).host) return null
    const map = await siteFetch(at, { reach, signal })
    const json = await boundedText(map, MOST_MAP_BYTES)
    // Some servers put this before JSON so that no page can run it as a script.
    return map.status === 200 ? sourceMapParts(json.replace(/^\)\]\}'[^\n]*\n/, ''), text, at.href) : null
  } catch {
    return null
  }
}

/** Fetching an address that holds its own content asks nobody. */
const textOfData = async (url: URL): Promise<string> => (await fetch(url)).text()
