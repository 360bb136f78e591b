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

export const PICTURE_PLACES = ['in view', 'further down', 'not shown'] as const
export type PicturePlace = (typeof PICTURE_PLACES)[number]

/** What was drawn of a page as one lens sees it. */
export interface DrawnThrough {
  drawn: readonly DrawnPicture[]
  /** Device pixels to one CSS pixel. */
  ratio: number
}

/** A picture's file as one lens draws it, all its places taken together. */
export interface PictureThrough {
  /** Which of the lenses, from 0. */
  through: number
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

/** A picture's file over all lenses through which it was drawn: as large, as far up and as soon as any of them has it. */
export interface UsedPicture extends Omit<PictureThrough, 'through'> {
  url: string
  /** Lens by lens, in their order; a lens for which the browser chose another file is not among them. */
  drawnThrough: PictureThrough[]
}

/** Files by the places in which they are drawn, in the order in which they first come. */
export function usedPictures(views: readonly DrawnThrough[]): UsedPicture[] {
  const found = new Map<string, Map<number, PictureThrough>>()
  for (const [through, { drawn, ratio }] of views.entries())
    for (const { url, width, height, where, ...how } of drawn) {
      const size = where === 'not shown' ? [0, 0] : [Math.ceil(width * ratio), Math.ceil(height * ratio)]
      const one = { through, times: 1, width: size[0]!, height: size[1]!, where, ...how }
      const file = found.get(url) ?? new Map<number, PictureThrough>()
      found.set(url, file)
      const known = file.get(through)
      file.set(through, known ? { ...together(known, one), times: known.times + 1 } : one)
    }
  return [...found].map(([url, file]) => {
    const drawnThrough = [...file.values()]
    const { times, width, height, where, lazy, isLargest } = drawnThrough.reduce(together)
    return { url, times, width, height, where, lazy, isLargest, drawnThrough }
  })
}

const together = (a: PictureThrough, b: PictureThrough): PictureThrough => ({
  through: a.through,
  times: Math.max(a.times, b.times),
  width: Math.max(a.width, b.width),
  height: Math.max(a.height, b.height),
  where: foremost(a.where, b.where),
  lazy: a.lazy && b.lazy,
  isLargest: a.isLargest || b.isLargest,
})

const foremost = (a: PicturePlace, b: PicturePlace): PicturePlace =>
  PICTURE_PLACES.indexOf(a) <= PICTURE_PLACES.indexOf(b) ? a : b
