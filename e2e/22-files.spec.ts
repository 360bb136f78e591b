import { expect, test } from '@playwright/test'

/** What a page's scripts and styles could weigh, by doing it. */

test.use({ baseURL: process.env.UNVELT_PAST_URL! })

test('each file is asked for once more, packed and minified, and what is spared adds up', async ({ page }) => {
  test.setTimeout(300_000)
  await page.goto('/')
  await page.getByRole('link', { name: 'Pages', exact: true }).click()
  await page.getByRole('link', { name: /^Opening hours/ }).click()
  await page.getByRole('tab', { name: 'Files' }).click()
  const look = page.getByRole('region', { name: 'What they could weigh' })
  await look.getByRole('button', { name: 'Weigh its files' }).click()
  await expect(look.getByRole('button', { name: 'Weigh them again' })).toBeVisible({ timeout: 240_000 })
  await expect(look.getByText(/^\d+ files, .* on the wire; .* could be spared on \d+ of them/)).toBeVisible()
  const rows = look.getByRole('table', { name: 'Could weigh less' }).getByRole('row')
  expect(await rows.count()).toBeGreaterThan(1)
  // A minifier has put all of its code behind a comment.
  await expect(rows.filter({ hasText: 'table-sorter.js' })).toContainText('nothing runs')
  // An outsider's file says whose affair it is.
  await expect(look.getByText('only its owner can change it').first()).toBeAttached()
  // Styles are weighed beside scripts; most of either could spare too little to matter.
  const light = look.getByText(/^\d+ files of which no more than .* could be spared, .* together$/)
  await light.click()
  const fine = look.getByRole('table', { name: 'As light as they need be' }).getByRole('row')
  await expect(fine.filter({ hasText: 'hollow.css' })).toBeVisible()
  await expect(fine.filter({ hasText: 'field-map.js' })).toBeVisible()
  // What was weighed once is still there.
  await page.reload()
  await expect(look.getByRole('button', { name: 'Weigh them again' })).toBeVisible()
})
