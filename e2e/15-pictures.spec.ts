import { readFile } from 'node:fs/promises'
import { expect, test } from '@playwright/test'
import { strFromU8, unzipSync } from 'fflate'

/** What a page's pictures could weigh, over the demo's past. */

test.use({ baseURL: process.env.UNVELT_PAST_URL! })

test('the picture that wastes most is found, seen beside what it was made into, and taken along', async ({ page }) => {
  await page.goto('/')
  await page.getByRole('link', { name: 'Pages', exact: true }).click()
  await page.getByRole('link', { name: /^Archive \/archive/ }).click()
  await page.getByRole('tab', { name: 'Pictures' }).click()
  await page.getByRole('button', { name: 'Weigh its pictures' }).click()
  await expect(page.getByRole('button', { name: 'Weigh its pictures again' })).toBeVisible({ timeout: 300_000 })

  const first = page.getByRole('table', { name: 'Could weigh less' }).getByRole('row').nth(1)
  await expect(first).toContainText('planting-day.jpg')
  await expect(first).toContainText('1,280 × 853')
  // A handset draws it with more pixels than a desk does, and the same file must do for both.
  await expect(first).toContainText('480 × 320 at a desk')
  await expect(first).toContainText('960 × 640 on a handset')
  await expect(first).toContainText('1.8 times the pixels it needs')
  await page.getByText(/pictures? of which no more than/).click()
  const lines = page.getByRole('row').filter({ hasText: '.svg' }).first()
  await expect(lines).toContainText(/as SVG|made of lines/)

  await first.getByRole('button', { name: /as (AVIF|WebP)$/ }).click()
  const pair = page.getByRole('dialog', { name: 'planting-day.jpg' })
  for (const name of ['As it is', 'Made anew']) {
    const picture = pair.getByRole('img', { name, exact: true })
    await expect
      .poll(() => picture.evaluate((img: HTMLImageElement) => (img.complete ? img.naturalWidth : 0)))
      .toBe(name === 'As it is' ? 1280 : 961)
  }
  await pair.getByRole('button', { name: 'Close' }).click()

  const coming = page.waitForEvent('download')
  await page.getByRole('button', { name: 'Save those made anew' }).click()
  const files = unzipSync(new Uint8Array(await readFile(await (await coming).path())))
  const table = strFromU8(files['pictures.csv']!)
  const [name, content] = Object.entries(files).find(([path]) => path.includes('planting-day'))!
  // The table, the place and the disk agree to the byte.
  expect(table).toContain(`${name},139475,${content.length},${139475 - content.length},1280,853,961,640,`)

  // Its address opens it again, with what was found.
  await page.reload()
  await expect(first).toContainText('planting-day.jpg')
})

test('over all pages each picture stands once, with what it would spare in 1,000 page views', async ({ page }) => {
  await page.goto('/')
  await page.getByRole('link', { name: 'Pages', exact: true }).click()
  await page.getByRole('link', { name: 'Pictures', exact: true }).click()
  const found = page.getByRole('table', { name: 'Could weigh less' })
  const row = found.getByRole('row').filter({ hasText: 'planting-day.jpg' })
  await expect(row).toContainText('Archive')
  await expect(row).toContainText('1.8 times the pixels it needs')
  // Every picture of the one page that was looked at costs the same visits, so that the heaviest gain stands first.
  await expect(found.getByRole('row').nth(1)).toContainText('planting-day.jpg')
  await row.getByRole('button', { name: /as (AVIF|WebP)$/ }).click()
  await page.getByRole('dialog', { name: 'planting-day.jpg' }).getByRole('button', { name: 'Close' }).click()

  await page.getByRole('button', { name: 'Weigh them again' }).click()
  await expect(page.getByRole('status').filter({ hasText: /^\d+ of \d+ pages …$/ })).toBeVisible()
  await page.getByRole('button', { name: 'Stop', exact: true }).click()
  await expect(page.getByRole('button', { name: 'Weigh them again' })).toBeVisible()
  await expect(row).toBeVisible()

  // What was found is among the next moves, and leads back here.
  await page.getByRole('link', { name: 'Standing', exact: true }).click()
  const showAll = page.getByRole('button', { name: /^Show all \d+$/ })
  await expect(showAll).toBeVisible()
  await showAll.click()
  const move = page.getByRole('listitem').filter({ hasText: 'Make pictures lighter' })
  await expect(move).toContainText(/Spares .* of waiting in 1,000 page views/)
  await move.getByRole('link', { name: 'Look' }).click()
  await expect(row).toBeVisible()
})
