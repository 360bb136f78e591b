import { expect, test } from '@playwright/test'

/** What the CMS itself keeps for nobody, over the demo's past. */

test.use({ baseURL: process.env.UNVELT_PAST_URL! })

test('old versions of pages go by age, after a snapshot, and what came of it is kept', async ({ page }) => {
  await page.goto('/')
  await page.getByRole('link', { name: 'Retirements', exact: true }).click()
  const kept = page.getByRole('region', { name: 'Kept for nobody' })
  const first = kept
    .getByRole('listitem')
    .filter({ has: page.getByRole('button', { name: /^Remove / }) })
    .first()
  const name = (await first.getByRole('button', { name: /^Remove / }).getAttribute('aria-label'))!.slice(
    'Remove '.length,
  )
  const age = first.getByRole('combobox', { name: `How old, of ${name}` })
  await age.selectOption({ index: 0 })
  const before = await age.locator('option').count()
  await first.getByRole('button', { name: `Remove ${name}` }).click()
  const asked = page.getByRole('dialog')
  await expect(asked).toContainText('A snapshot is made and read back before any of it goes.')
  await asked.getByRole('button', { name: 'Not now' }).click()
  await expect(age.locator('option')).toHaveCount(before)

  await first.getByRole('button', { name: `Remove ${name}` }).click()
  await asked.getByRole('button', { name: 'Remove them' }).click()
  const done = kept.getByRole('list', { name: 'Tidied up' }).getByRole('listitem').first()
  await expect(done).toContainText(/: (?!under way|nothing was done)/, { timeout: 300_000 })
  await expect(done).not.toContainText('under way', { timeout: 300_000 })
  await expect(done).not.toContainText('nothing was done')
  // All of them went, whatever their age.
  await expect(kept.getByRole('button', { name: `Remove ${name}`, exact: true })).toHaveCount(0)
})
