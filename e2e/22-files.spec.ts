import { AxeBuilder } from '@axe-core/playwright'
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

test('the files of all pages are weighed once each, on the few pages that have them all, and make a move', async ({
  page,
}) => {
  test.setTimeout(420_000)
  await page.goto('/sites/1/pages?view=files')
  const main = page.getByRole('main')
  // What was weighed on one page is not weighed again.
  const all = main.getByText(/^\d+ pages? ha(s|ve) them all\.$/)
  await expect(all).toBeVisible()
  const button = main.getByRole('button', { name: /^Weigh / })
  const few = Number(/\d+/.exec((await all.textContent())!)![0])
  expect(few).toBeLessThan(20)
  await button.click()
  await expect(main.getByRole('status')).toContainText(/\d+ of \d+ files, \d+ pages? to go/)
  await expect(main.getByRole('button', { name: 'Weigh them again' })).toBeVisible({ timeout: 400_000 })
  const found = main.getByRole('region', { name: 'Files of the site' })
  await expect(found).toContainText(/^\d+ files, .* in 1,000 page views; .* of them could be spared by \d+ files?/)
  const table = found.getByRole('table', { name: 'Could weigh less' })
  const rows = table.getByRole('row')
  // What is worth it is what is more than the least difference, and that may be one file alone.
  expect(await rows.count()).toBeGreaterThan(1)
  await expect(rows.filter({ hasText: 'table-sorter.js' })).toContainText('and 65 more')
  const { violations } = await new AxeBuilder({ page }).include('main').analyze()
  expect(violations.map(({ id, nodes }) => `${id} ${nodes[0]!.html.slice(0, 200)}`)).toEqual([])

  await page.getByRole('navigation', { name: 'Places' }).getByRole('link', { name: 'Standing' }).click()
  const move = page.getByRole('listitem').filter({ hasText: 'Pack and minify files' })
  const more = page.getByRole('button', { name: /^Show all \d+/ })
  await expect(page.getByRole('heading', { name: 'Next moves' })).toBeVisible()
  await more.click()
  await expect(move).toContainText(/[Ff]iles? of the site’s own/)
  await move.getByRole('link', { name: 'Look' }).click()
  await expect(table).toBeVisible()
})
