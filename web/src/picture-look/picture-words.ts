import type {
  LookedAtFrame,
  LookedAtPicture,
  LookedThroughLens,
  PictureThroughView,
  RemadePicture,
} from '@unvelt/contract'
import { count } from '../figures/format.js'

export const ON_DEVICE: Record<LookedThroughLens['device'], string> = { desk: 'at a desk', handset: 'on a handset' }

/** Lens by lens; looks of earlier versions were taken through one. */
export const throughOf = (one: LookedAtPicture | LookedAtFrame): PictureThroughView[] =>
  one.drawnThrough ?? [
    {
      ...{ through: 0, times: 1, width: 0, height: 0, isLargest: false },
      ...('drawnWidth' in one && {
        ...{ times: one.times, width: one.drawnWidth, height: one.drawnHeight, isLargest: one.isLargest },
      }),
      ...{ where: one.where, lazy: one.lazy },
    },
  ]

/** Through what a page was looked at: `at a desk, 1,280 pixels wide, and on a handset, 390 wide at 2 to one`. */
export function lookedThroughWords(lenses: readonly LookedThroughLens[]): string {
  const views = lenses.map(
    ({ device, viewWidth, ratio }) =>
      `${ON_DEVICE[device]}, ${count(viewWidth)} pixels wide${ratio > 1 ? ` at ${ratio} to one` : ''}`,
  )
  const sentence = views.join(', and ')
  return sentence.charAt(0).toUpperCase() + sentence.slice(1)
}

/** What would be spared of a file's bytes by the lightest way of making it anew; 0 where none is lighter. */
export const spared = ({ bytes, remade }: LookedAtPicture): number => (remade[0] ? bytes - remade[0].bytes : 0)

/** The last part of an address, as a maintainer knows the file. */
export function fileName(url: string): string {
  const { pathname, host } = new URL(url)
  const last = pathname.split('/').filter(Boolean).at(-1)
  try {
    return last === undefined ? host : decodeURIComponent(last)
  } catch {
    return last!
  }
}

const FORMATS: Record<string, string> = { jpeg: 'JPEG', png: 'PNG', webp: 'WebP', avif: 'AVIF', gif: 'GIF', svg: 'SVG' }
export const formatName = (format: string): string => FORMATS[format] ?? (format || 'unknown')

export const remadeName = ({ as }: Pick<RemadePicture, 'as'>, { format }: Pick<LookedAtPicture, 'format'>): string =>
  formatName(as === 'same' ? format : as)

export const size = (width: number, height: number): string => `${count(width)} × ${count(height)}`

/** How a file stands to what is drawn of it, in a few words; empty where there is nothing to say. */
export function sizeWords({ fileWidth, fileHeight, neededWidth, neededHeight, where }: LookedAtPicture): string {
  if (where === 'not shown' || neededWidth === 0) return ''
  const share = (fileWidth * fileHeight) / (neededWidth * neededHeight)
  return share < 1.05 ? 'fits' : `${share < 9.95 ? share.toFixed(1) : count(share)} times the pixels it needs`
}

/** What could be said against the way it is loaded; empty where nothing can. */
export function loadingWords(picture: LookedAtPicture, lenses: readonly LookedThroughLens[] = []): string {
  const { where, lazy, isLargest } = picture
  if (isLargest) {
    const on = new Set(throughOf(picture).flatMap((one) => (one.isLargest ? (lenses[one.through]?.device ?? []) : [])))
    const [only] = on.size === 1 && lenses.length > 1 ? on : []
    return `the largest paint${only ? ` ${ON_DEVICE[only]}` : ''}${lazy ? ', and it waits' : ''}`
  }
  if (where === 'in view' && lazy) return 'waits though it is in view'
  if (where === 'further down' && !lazy) return 'loads at once'
  if (where === 'not shown' && !lazy) return 'loads, and nobody sees it'
  return lazy ? 'waits until it is near' : ''
}
