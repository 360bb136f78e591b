import type { Page } from 'playwright-core'

export interface Picture {
  jpeg: Buffer
  width: number
  height: number
}

/** Longer pages are cut here. */
const MOST_PIXELS_DOWN = 9_000
const QUALITY = 60
const AT_MOST_MS = 8_000

/** The page from top to bottom, one pixel per CSS pixel. Null where it can't be had: no reading fails for want of it. */
export async function takePicture(page: Page): Promise<Picture | null> {
  try {
    const size = await page.evaluate(() => ({
      width: document.documentElement.clientWidth,
      height: document.documentElement.scrollHeight,
    }))
    const clip = { x: 0, y: 0, width: size.width, height: Math.min(size.height, MOST_PIXELS_DOWN) }
    const jpeg = await page.screenshot({
      type: 'jpeg',
      quality: QUALITY,
      fullPage: true,
      clip,
      scale: 'css',
      animations: 'disabled',
      timeout: AT_MOST_MS,
    })
    return { jpeg, width: clip.width, height: clip.height }
  } catch {
    return null
  }
}
