import { setTimeout } from 'node:timers/promises'
import type { Page } from 'playwright-core'

export interface Picture {
  jpeg: Buffer
  width: number
  height: number
}

/** Longer pages are cut here. */
const MOST_PIXELS_DOWN = 9_000
const QUALITY = 60
const AS_JPEG = { type: 'jpeg', quality: QUALITY, scale: 'css', animations: 'disabled', timeout: 8_000 } as const

/** The page from top to bottom, one pixel per CSS pixel. Null where it can't be had: no reading fails for want of it. */
export async function takePicture(page: Page): Promise<Picture | null> {
  try {
    const size = await page.evaluate(() => ({
      width: document.documentElement.clientWidth,
      height: document.documentElement.scrollHeight,
    }))
    const clip = { x: 0, y: 0, width: size.width, height: Math.min(size.height, MOST_PIXELS_DOWN) }
    return { jpeg: await page.screenshot({ ...AS_JPEG, fullPage: true, clip }), width: clip.width, height: clip.height }
  } catch {
    return null
  }
}

/** What drifts or changes by itself has done so by then, or will be seen to from reading to reading. */
const LATER_MS = 450

/** Null where nothing has moved since, too. */
export async function takeLaterPicture(page: Page, first: Picture): Promise<Picture | null> {
  await setTimeout(LATER_MS)
  const later = await takePicture(page)
  return later?.jpeg.equals(first.jpeg) ? null : later
}

/** What a visitor has before their eyes at the moment. Null where it can't be had. */
export async function takeView(page: Page): Promise<Picture | null> {
  try {
    const size = await page.evaluate(() => ({ width: innerWidth, height: innerHeight }))
    return { jpeg: await page.screenshot(AS_JPEG), ...size }
  } catch {
    return null
  }
}
