import { couldWeigh, isEmptied, isMinified, type CouldWeigh, type FileLook, type LookedAtFile } from '@unvelt/contract'

export interface FileGain extends CouldWeigh {
  file: LookedAtFile
  spared: number
}

/** A month: whoever comes back within one has what does not change at hand. */
const LONG_S = 30 * 86_400

/** What each file could weigh, what spares most first; apart, what is too little to matter. */
export function fileGains({ files, leastBytes }: FileLook): { worth: FileGain[]; rest: FileGain[] } {
  const all = files
    .map((file) => {
      const gain = couldWeigh(file)
      return { file, ...gain, spared: gain.byPacking + gain.byMinifying }
    })
    .sort((a, b) => b.spared - a.spared || b.file.bytes - a.file.bytes)
  const isWorth = ({ spared }: FileGain) => spared > leastBytes && spared > 0
  return { worth: all.filter(isWorth), rest: all.filter((gain) => !isWorth(gain)) }
}

/** Its address changes with its content, and still browsers are told to ask for it again soon. */
export const isKeptTooShort = ({ hasFingerprint, keptSeconds, why, bytes }: LookedAtFile): boolean =>
  hasFingerprint && bytes > 0 && why === null && (keptSeconds ?? 0) < LONG_S

/** How it comes now, in a few words. */
export function nowWords(file: LookedAtFile): string {
  const { encoding, minified } = file
  const packed = encoding === '' ? 'not packed' : encoding === 'br' ? 'Brotli' : encoding
  if (isEmptied(file)) return `${packed}; all of it is a comment, and nothing runs`
  return minified && isMinified(file) ? `${packed}, minified` : packed
}
