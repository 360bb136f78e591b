import { standInFor, type FaceWithFiles, type FontStandIn } from '@unvelt/core'
import { parseApart } from '../parse/parse-apart.js'
import type { Reach } from '../reach/reach.js'
import { fetchPacked } from '../site-http/fetch-packed.js'

const MOST_STYLES = 8
const MOST_FILES = 16
const MOST_BYTES = 4_000_000

/** What an add-on was seen to load. */
export interface FontsLoaded {
  styles: readonly string[]
  /** Files of fonts: a face none of whose files was asked for was never drawn. */
  files: readonly string[]
}

/**
 * Which fonts of the system stand in for those that an add-on loads, by the metrics of the very files. What can't be fetched or read
 * has none.
 */
export async function findStandIns({ styles, files }: FontsLoaded, reach: Reach): Promise<FontStandIn[]> {
  const loaded = new Set(files)
  const faces: { face: FaceWithFiles; file: string }[] = []
  for (const found of await Promise.all(styles.slice(0, MOST_STYLES).map((url) => facesIn(url, reach))))
    for (const { face, base } of found) {
      const file = face.sources
        .map((source) => (URL.canParse(source, base) ? new URL(source, base).href : ''))
        .find((address) => loaded.has(address))
      // Of a face in several files, by the letters in them, the one with Latin says how wide it is.
      if (file !== undefined && face.hasLatin) faces.push({ face, file })
    }
  const drawn = [...new Map(faces.map((one) => [keyOf(one.face), one])).values()].slice(0, MOST_FILES)
  const fitted = await Promise.all(
    drawn.map(async ({ face, file }) => {
      const metrics = await metricsOf(file, reach)
      return metrics ? standInFor(face, metrics) : null
    }),
  )
  return fitted.filter((found) => found !== null)
}

const keyOf = ({ family, weight, style }: FaceWithFiles) => JSON.stringify([family, weight, style])

async function facesIn(url: string, reach: Reach): Promise<{ face: FaceWithFiles; base: string }[]> {
  const bytes = await fetched(url, reach)
  const faces = bytes && (await parseApart('faces', bytes.toString('utf8')))
  return (faces ?? []).map((face) => ({ face, base: url }))
}

async function metricsOf(url: string, reach: Reach) {
  const bytes = await fetched(url, reach)
  return bytes && parseApart('font', bytes.toString('base64'))
}

async function fetched(url: string, reach: Reach): Promise<Buffer | null> {
  try {
    const { status, plain } = await fetchPacked(new URL(url), reach, MOST_BYTES)
    return status === 200 ? plain : null
  } catch {
    return null
  }
}
