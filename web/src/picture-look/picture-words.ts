import type { LookedAtPicture, RemadePicture } from '@unvelt/contract'
import { count } from '../figures/format.js'

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
export function loadingWords({ where, lazy, isLargest }: LookedAtPicture): string {
  if (isLargest && lazy) return 'the largest paint, and it waits'
  if (isLargest) return 'the largest paint'
  if (where === 'in view' && lazy) return 'waits though it is in view'
  if (where === 'further down' && !lazy) return 'loads at once'
  if (where === 'not shown' && !lazy) return 'loads, and nobody sees it'
  return lazy ? 'waits until it is near' : ''
}
