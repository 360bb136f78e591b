/** One place in which a page's document draws a picture. All lengths are CSS pixels, as drawn. */
export interface DrawnPicture {
  /** The file that the browser chose for it. */
  url: string
  width: number
  height: number
  /** `in view` lies, at least in part, in the first view; `not shown` takes no room or can't be seen. */
  where: PicturePlace
  /** Whether its tag leaves it to the browser to load it only when it comes near. */
  lazy: boolean
  /** Whether it is the page's largest paint. */
  isLargest: boolean
}

/** A frame of a page, and where it stands. */
export type DrawnFrame = Pick<DrawnPicture, 'url' | 'where' | 'lazy'>

export const PICTURE_PLACES = ['in view', 'further down', 'not shown'] as const
export type PicturePlace = (typeof PICTURE_PLACES)[number]

/** A picture's file with all places in which it is drawn taken together. */
export interface UsedPicture {
  url: string
  /** How often it is drawn. */
  times: number
  /** The largest size at which it is drawn, in device pixels; 0 where it is not shown. */
  width: number
  height: number
  /** The foremost of its places. */
  where: PicturePlace
  /** Only where all its places leave it to the browser. */
  lazy: boolean
  isLargest: boolean
}

/**
 * Files by the places in which they are drawn, in the order in which they first come.
 * @param ratio Device pixels to one CSS pixel.
 */
export function usedPictures(drawn: readonly DrawnPicture[], ratio: number): UsedPicture[] {
  const found = new Map<string, UsedPicture>()
  for (const { url, width, height, where, lazy, isLargest } of drawn) {
    const known = found.get(url)
    const size = where === 'not shown' ? [0, 0] : [Math.ceil(width * ratio), Math.ceil(height * ratio)]
    found.set(url, {
      url,
      times: (known?.times ?? 0) + 1,
      width: Math.max(known?.width ?? 0, size[0]!),
      height: Math.max(known?.height ?? 0, size[1]!),
      where: known ? foremost(known.where, where) : where,
      lazy: known ? known.lazy && lazy : lazy,
      isLargest: known?.isLargest === true || isLargest,
    })
  }
  return [...found.values()]
}

const foremost = (a: PicturePlace, b: PicturePlace): PicturePlace =>
  PICTURE_PLACES.indexOf(a) <= PICTURE_PLACES.indexOf(b) ? a : b
