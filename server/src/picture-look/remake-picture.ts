import sharp, { type Sharp } from 'sharp'
import { ssim } from 'ssim.js'
import { leastQuality, neededSize, type PixelSize, type TriedQuality } from '@unvelt/core'
import type { RemadeAs } from '@unvelt/contract'
import { parseApart } from '../parse/parse-apart.js'

const MOST_PIXELS = 60e6
const LONGEST_S = 30
/** Larger pictures are held against each other at this size: what can't be seen there can't be seen. */
const MOST_COMPARED_PIXELS = 600_000
/** In which the least one that is good enough is looked for. */
export const REMADE_QUALITIES = [30, 40, 50, 60, 70, 80, 90, 95]
/** Lines are compared as they are drawn at no more than this width, in pixels. */
const MOST_LINES_WIDTH = 1_000
const LONGEST_LINES_MS = 10_000
/** Formats that are made anew; all others are told as they are. */
const REMADE = ['jpeg', 'png', 'webp', 'avif']
/** Of AVIF: what more effort spares is little beside what it takes. */
const AVIF_EFFORT = 2

export interface Remade extends TriedQuality {
  as: RemadeAs
  content: Buffer
}

export interface RemadeFile {
  format: string
  file: PixelSize
  needed: PixelSize
  /** Lighter than the file, the lightest first. */
  remade: Remade[]
  why: string | null
}

/**
 * What a picture would weigh at the size at which it is drawn, as lightly as it stays similar enough to itself at that size. Runs
 * in sharp's own threads.
 */
export async function remakePicture(body: Buffer, drawn: PixelSize, similarity: number): Promise<RemadeFile> {
  const none = { format: '', file: { width: 0, height: 0 }, needed: { width: 0, height: 0 }, remade: [] }
  let about: Awaited<ReturnType<Sharp['metadata']>>
  try {
    about = await opened(body).metadata()
  } catch {
    return { ...none, why: 'It is no picture that can be read.' }
  }
  // Lying on its side by its own word, it is drawn standing.
  const turned = (about.orientation ?? 1) >= 5
  const [width, height] = turned ? [about.height, about.width] : [about.width, about.height]
  const file = { width: width ?? 0, height: height ?? 0 }
  const format = about.format === 'heif' ? 'avif' : String(about.format)
  const told = { format, file, needed: file, remade: [] }
  if (format === 'svg') return { ...told, ...(await lighterLines(body, file, drawn, similarity)) }
  if ((about.pages ?? 1) > 1) return { ...told, why: 'It moves, and is not made anew.' }
  if (!REMADE.includes(format)) return { ...told, why: `A ${format} picture is not made anew.` }
  const needed = neededSize(file, drawn)
  try {
    const small = await opened(body)
      .rotate()
      .resize(needed.width, needed.height, { fit: 'fill' })
      .timeout({ seconds: LONGEST_S })
      .raw()
      .toBuffer({ resolveWithObject: true })
    const raw = { width: needed.width, height: needed.height, channels: small.info.channels as 3 | 4 }
    const base = () => sharp(small.data, { raw })
    const original = await pixelsOf(base())
    const made: (Remade | null)[] = []
    for (const as of kindsOf(format)) made.push(await lightest(base, original, { as, format, similarity }))
    const lighter = made.filter((one): one is Remade => one !== null && one.content.length < body.length)
    return { ...told, needed, remade: lighter.sort((a, b) => a.content.length - b.content.length), why: null }
  } catch (error) {
    return { ...told, why: `It could not be made anew: ${(error as Error).message.split('\n')[0]!.slice(0, 120)}` }
  }
}

const opened = (body: Buffer) => sharp(body, { limitInputPixels: MOST_PIXELS, failOn: 'error', animated: false })

const kindsOf = (format: string): RemadeAs[] =>
  (['same', 'webp', 'avif'] as const).filter((as) => as === 'same' || as !== format)

/**
 * What is drawn by lines fits any size, but may be written more shortly: with as few places behind the point as keep it similar to
 * itself, at its own size or that at which it is drawn, whichever is larger.
 */
async function lighterLines(
  body: Buffer,
  file: PixelSize,
  drawn: PixelSize,
  similarity: number,
): Promise<Pick<RemadeFile, 'remade' | 'why'>> {
  const width = Math.min(MOST_LINES_WIDTH, Math.max(file.width, drawn.width, 1))
  const drawnBy = (lines: Buffer) => pixelsOf(opened(lines).resize({ width }).timeout({ seconds: LONGEST_S }))
  try {
    const was = await drawnBy(body)
    for (const places of ['svg 0', 'svg 1', 'svg 3'] as const) {
      const written = await parseApart(places, body.toString('utf8'), LONGEST_LINES_MS)
      if (written === null) return { remade: [], why: 'It is made of lines that could not be taken apart.' }
      const content = Buffer.from(written)
      if (content.length >= body.length) continue
      const is = await drawnBy(content)
      const alike = was.width === is.width && was.height === is.height ? likeness(was, is) : 0
      if (alike >= similarity) return { remade: [{ as: 'same', quality: 100, content, similarity: alike }], why: null }
    }
    return { remade: [], why: 'It is made of lines, and could not be written more shortly.' }
  } catch (error) {
    return {
      remade: [],
      why: `It could not be made anew: ${(error as Error).message.split('\n')[0]!.slice(0, 120)}`,
    }
  }
}

function lightest(
  base: () => Sharp,
  original: ImagePixels,
  { as, format, similarity }: { as: RemadeAs; format: string; similarity: number },
): Promise<Remade | null> {
  const target = as === 'same' ? format : as
  return leastQuality(REMADE_QUALITIES, similarity, async (quality) => {
    const content = await encoded(base(), target, quality).timeout({ seconds: LONGEST_S }).toBuffer()
    const now = await pixelsOf(sharp(content))
    return { as, quality, content, similarity: likeness(original, now) }
  })
}

function encoded(picture: Sharp, format: string, quality: number): Sharp {
  switch (format) {
    case 'webp':
      return picture.webp({ quality })
    case 'avif':
      return picture.avif({ quality, effort: AVIF_EFFORT })
    case 'png':
      // Fewer colours are to a PNG what a lower quality is to others.
      return picture.png({ palette: true, quality, compressionLevel: 9 })
    default:
      return picture.jpeg({ quality, mozjpeg: true })
  }
}

/** Structural similarity over windows side by side: within a few thousandths of that over windows at every pixel, in a tenth of its time. */
const likeness = (a: ImagePixels, b: ImagePixels): number => ssim(a, b, { ssim: 'bezkrovny' }).mssim

interface ImagePixels {
  data: Uint8ClampedArray
  width: number
  height: number
}

/** As the eye is given it: on white, where it lets something through. */
async function pixelsOf(picture: Sharp): Promise<ImagePixels> {
  const { data, info } = await picture
    .flatten({ background: '#fff' })
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true })
  const pixels = info.width * info.height
  if (pixels <= MOST_COMPARED_PIXELS)
    return { data: new Uint8ClampedArray(data), width: info.width, height: info.height }
  const share = Math.sqrt(MOST_COMPARED_PIXELS / pixels)
  const small = await sharp(data, { raw: { width: info.width, height: info.height, channels: 4 } })
    .resize(Math.round(info.width * share), Math.round(info.height * share), { fit: 'fill' })
    .raw()
    .toBuffer({ resolveWithObject: true })
  return { data: new Uint8ClampedArray(small.data), width: small.info.width, height: small.info.height }
}
