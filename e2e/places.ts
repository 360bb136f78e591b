import type { Page } from '@playwright/test'

/** The ledger of the site that was looked at last, reached as a maintainer would. */
export async function openLedger(page: Page): Promise<void> {
  await page.goto('/')
  await page.getByRole('link', { name: 'Ledger' }).click()
}
