import sharp from 'sharp'
import { LOOK_HEIGHT, LOOK_WIDTH, lookOf, type PictureLooks } from '@unvelt/core'

const MOST_PIXELS = 60e6
const LONGEST_S = 10

/** How a picture looks; null where it can't be read in time. */
export async function looksOf(body: Buffer): Promise<PictureLooks | null> {
  try {
    const { data, info } = await sharp(body, { limitInputPixels: MOST_PIXELS, failOn: 'error', animated: false })
      .rotate()
      .flatten({ background: '#fff' })
      .toColourspace('b-w')
      .timeout({ seconds: LONGEST_S })
      .raw()
      .toBuffer({ resolveWithObject: true })
    const small = await sharp(data, { raw: { width: info.width, height: info.height, channels: info.channels } })
      .resize(LOOK_WIDTH, LOOK_HEIGHT, { fit: 'fill' })
      .extractChannel(0)
      .raw()
      .toBuffer()
    return lookOf(small, info)
  } catch {
    return null
  }
}
