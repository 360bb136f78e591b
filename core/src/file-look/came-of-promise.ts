/** What a look at a file said that could be spared of it each time it is fetched; bytes. */
export interface WeightPromise {
  url: string
  /** What it weighed on the wire in the sweep before, each time it was fetched. */
  bytes: number
  saving: number
}

/** A file as a later sweep met it: bytes on the wire each time it was fetched. */
export interface MetFile {
  url: string
  bytes: number
}

/** `gone`: nothing of it is loaded any more, and nothing that could have come in its place. */
export type PromiseWord = 'kept' | 'in part' | 'not yet' | 'heavier' | 'gone'

export interface CameOfPromise {
  word: PromiseWord
  /** What is spared each time it was fetched; below 0 where it has grown. */
  came: number
  /** Under which address it comes now; null where nothing does. */
  now: string | null
}

/** As much of what was promised counts as all of it: what a server packs is never twice the same to the byte. */
const ALL = 0.9
/** Less than this is the answer's head, and no change of the file. */
const LEAST_SHARE = 0.1
const LEAST_BYTES = 200

/**
 * What came of a promise, by a later sweep.
 * @param met All files of its kind that the later sweep met.
 * @param known Addresses that were there before: what is new may have come in its place.
 * @param comeAs The address of a picture that was seen to have come in its place.
 */
export function cameOfPromise(
  { url, bytes, saving }: WeightPromise,
  met: ReadonlyMap<string, MetFile>,
  known: ReadonlySet<string>,
  comeAs: string | null = null,
): CameOfPromise {
  const same = met.get(url) ?? (comeAs === null ? undefined : met.get(comeAs))
  const now =
    same ??
    inItsPlace(
      url,
      [...met.values()].filter((file) => !known.has(file.url)),
    )
  if (!now) return { word: 'gone', came: bytes, now: null }
  const came = bytes - now.bytes
  const least = Math.max(LEAST_BYTES, LEAST_SHARE * saving)
  const word = came >= ALL * saving ? 'kept' : came >= least ? 'in part' : came <= -least ? 'heavier' : 'not yet'
  return { word, came, now: now.url }
}

/** The one among new files that has the other's name: in another format, of another size, minified, or with another version. */
function inItsPlace(url: string, candidates: readonly MetFile[]): MetFile | null {
  const stem = fileStem(url)
  if (stem === null) return null
  const alike = candidates.filter((file) => fileStem(file.url) === stem)
  // Of several sizes one page may load several, and which of them is meant nobody can tell: the heaviest promises nothing.
  return alike.sort((a, b) => b.bytes - a.bytes)[0] ?? null
}

/**
 * What of a file's name stays when it is made anew: without its ending, its measure in pixels, `min`, and the sum of its content. Null where
 * nothing is left that a name could be told by.
 */
export function fileStem(address: string): string | null {
  if (!URL.canParse(address)) return null
  const name = new URL(address).pathname.split('/').findLast(Boolean) ?? ''
  let stem = name.toLowerCase()
  for (let before = ''; before !== stem;) {
    before = stem
    stem = stem
      .replace(/\.(?:jpe?g|png|gif|webp|avif|svg|m?js|css|min)$/, '')
      .replace(/[-_.@](?:\d{2,5}x\d{2,5}|\d{2,5}w|[1-4]x|scaled)$/, '')
      .replace(/[-_.](?=[0-9a-f]*\d)[0-9a-f]{8,}$/, '')
  }
  return stem.length < 2 ? null : stem
}
