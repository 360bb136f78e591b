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
  await expect(look.getByRole('button', { name: 'Weigh them again' })).toBeVisible({ timeout: 300_000 })
  await expect(look.getByText(/^\d+ files, .* on the wire/)).toBeVisible()
  // A minifier has put all of its code behind a comment: that is said, and is no gain.
  const twice = look.getByRole('note', { name: 'Made smaller twice' })
  await expect(twice).toContainText('Leaf Press and Trim Press both make code smaller')
  await expect(twice).toContainText('Nothing runs of table-sorter.js')
  // An outsider's file says whose affair it is.
  await expect(look.getByText('only its owner can change it').first()).toBeAttached()
  // Styles are weighed beside scripts; most of either could spare too little to matter.
  const fine = look.getByRole('table', { name: 'As light as they need be' }).getByRole('row')
  await expect(fine.filter({ hasText: 'hollow.css' })).toBeVisible()
  await expect(fine.filter({ hasText: 'table-sorter.js' })).toContainText('nothing runs')
  await expect(fine.filter({ hasText: 'field-map.js' })).toBeVisible()
  // What was weighed once is still there.
  await page.reload()
  await expect(look.getByRole('button', { name: 'Weigh them again' })).toBeVisible()
})

test('the files of all pages are weighed once each, on the few pages that have them all', async ({ page }) => {
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
  await expect(found).toContainText(/^\d+ files, .* in 1,000 page views/)
  const rows = found.getByRole('table', { name: 'As light as they need be' }).getByRole('row')
  expect(await rows.count()).toBeGreaterThan(20)
  await expect(rows.filter({ hasText: 'table-sorter.js' })).toContainText('and 65 more')
  await expect(rows.filter({ hasText: 'table-sorter.js' })).toContainText('nothing runs')
  await expect(found.getByRole('note', { name: 'Made smaller twice' })).toContainText('Nothing runs of table-sorter.js')
  const { violations } = await new AxeBuilder({ page }).include('main').analyze()
  expect(violations.map(({ id, nodes }) => `${id} ${nodes[0]!.html.slice(0, 200)}`)).toEqual([])

  // Nothing is worth it alone, and what is broken is no gain: no move is made of either.
  await page.getByRole('navigation', { name: 'Places' }).getByRole('link', { name: 'Standing' }).click()
  await expect(page.getByRole('heading', { name: 'Next moves' })).toBeVisible()
  await page.getByRole('button', { name: /^Show all \d+/ }).click()
  await expect(page.getByRole('listitem').filter({ hasText: 'Pack and minify files' })).toHaveCount(0)
})
