import type { FrameLocator, Locator, Page } from 'playwright-core'

/** Stands between a frame and what is meant in it; outside of a quoted string no selector of CSS has it. */
export const INTO_FRAME = ' -> '

/**
 * What a selector means on a page: CSS, which also finds what stands in open shadow trees; `iframe#ask -> #yes` is `#yes` in the
 * document of that frame.
 */
export function controlOn(page: Page, selector: string): Locator {
  const steps = selector.split(INTO_FRAME)
  let within: Page | FrameLocator = page
  for (const frame of steps.slice(0, -1)) within = within.frameLocator(`css=${frame}`).first()
  return within.locator(`css=${steps.at(-1)!}`).first()
}
