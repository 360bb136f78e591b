import { expect, test } from '@playwright/test'
import { plainSite } from '../testing/plain-site.js'

test('a site without a connector is found by its links, swept, and its code told apart by folder', async ({ page }) => {
  test.setTimeout(180_000)
  const plain = await plainSite()
  try {
    await page.goto('/sites/new')
    await page.getByRole('textbox', { name: 'Address' }).fill(plain.address)
    await page.getByLabel('The site is local').check()
    await page.getByRole('button', { name: 'Register the site' }).click()
    await expect(page.getByText('answers, but has no connector')).toBeVisible()
    await page.getByLabel('The site has no connector').check()
    await page.getByRole('button', { name: 'Register the site' }).click()
    await expect(page.getByText('5 pages were found by following its links')).toBeVisible()

    await page.getByRole('link', { name: 'Pages' }).click()
    await page.getByRole('button', { name: 'Name pages' }).click()
    const addresses = page.getByRole('textbox', { name: 'Addresses' })
    await addresses.fill('http://elsewhere.localhost/')
    await page.getByRole('button', { name: 'Name them' }).click()
    await expect(page.getByRole('alert')).toContainText('Line 1: expected an address at http://plain.localhost')
    await addresses.fill('/news/ice?print=1')
    await page.getByRole('button', { name: 'Name them' }).click()
    await expect(page.getByText('1 page named')).toBeVisible()
    await page.getByRole('button', { name: 'Undo' }).click()

    await page.getByRole('link', { name: 'Ledger' }).click()
    await page.getByRole('main').getByRole('button', { name: 'Sweep 5 pages' }).click()
    const strip = page.getByRole('banner')
    await expect(strip.getByRole('button', { name: 'Pause' })).toBeVisible()
    await expect(strip.getByRole('button', { name: 'Sweep 5 pages' })).toBeVisible({ timeout: 120_000 })
    await page.getByRole('gridcell', { name: /^\/parts\/heron-gallery\/ on About/ }).click()
    const particulars = page.getByRole('complementary', { name: 'Particulars' })
    await expect(particulars).toContainText('it has no connector, so nothing can be left out from here')
    await expect(particulars.getByRole('row', { name: /^Server time/ })).toContainText('not told')
    await expect(page.getByRole('rowheader', { name: 'stranger.localhost' })).toBeVisible()
  } finally {
    await plain.stop()
  }
})
