import { expect, test } from '@playwright/test'
import { asNew } from './places.js'

/** What of an add-on can go from a page without breaking anything there, with no draft to begin with. */
test.use({ baseURL: process.env.UNVELT_PAST_URL! })
test.describe.configure({ timeout: 480_000 })
test.beforeEach(({ request }) => asNew(request))
test.afterEach(({ request }) => asNew(request))

test('what works of an add-on on a page is found on the real page, and drafted by a press', async ({ page }) => {
  await page.goto('/')
  await page.getByRole('link', { name: 'Ledger' }).click()
  await page.getByRole('gridcell', { name: /^Canopy Slider on Contact/ }).click()
  const part = page.getByRole('region', { name: 'What works here' })
  // Whoever tries it once more finds what was found before.
  await part.getByRole('button', { name: /^(Find what works|Look again)$/ }).click()
  await expect(part.getByRole('link', { name: 'with it and without' })).toBeVisible()
  await expect(part.getByRole('button', { name: 'Stop' })).toBeVisible()
  // Nobody uses the slider there, so all of it can go.
  await expect(part).toContainText(/not run by the site\s*all guards hold; at load it spares \d+ requests? and/, {
    timeout: 300_000,
  })
  const tray = page.getByRole('region', { name: 'Draft tray' })
  await expect(tray).toHaveCount(0)
  await part.getByRole('button', { name: /^Draft it here/ }).click()
  await expect(tray).toContainText('1 draft')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(tray).toHaveCount(0)

  // It is there when one comes back, and was no rehearsal of any draft.
  await page.reload()
  await page.getByRole('gridcell', { name: /^Canopy Slider on Contact/ }).click()
  await expect(part.getByRole('button', { name: 'Look again' })).toBeVisible()
  await part.getByRole('button', { name: /^Draft it on pages of kind page/ }).click()
  await expect(tray.getByRole('button', { name: 'Rehearse', exact: true })).toBeVisible()
})
