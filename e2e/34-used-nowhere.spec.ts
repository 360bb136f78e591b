import { AxeBuilder } from '@axe-core/playwright'
import { expect, test } from '@playwright/test'
import { strFromU8, unzipSync } from 'fflate'
import { readFileSync } from 'node:fs'

const site = `${process.env.UNVELT_PAST_URL ?? 'http://127.0.0.1:4600'}/sites/1`

test('styles that no page uses are named, what may be needed is kept, and the cleaned files are saved', async ({
  page,
}) => {
  test.setTimeout(240_000)
  await page.goto(`${site}/pages?view=nowhere`)
  await page.getByRole('button', { name: /^Look (what is used nowhere|again)$/ }).click()
  const found = page.getByRole('region', { name: 'Used nowhere' })
  await expect(page.getByRole('button', { name: 'Look again' })).toBeVisible({ timeout: 180_000 })
  await expect(found).toContainText('Looked for on every page that loads the file')
  // The theme is heaviest: most of it is for layouts that nobody chose.
  const row = found.getByRole('row').filter({ hasText: 'hollow.css' }).first()
  await expect(row).toContainText(/\d+ rules?, [\d.]+\sK?B/)
  await row.getByRole('button').first().click()
  const rules = page.getByRole('dialog')
  await expect(rules.getByRole('table').first()).toContainText('Can go')
  await expect(rules.getByRole('table').nth(1)).toContainText('May be needed, and stays')
  await expect(rules).toContainText('for a state that comes and goes')
  const { violations } = await new AxeBuilder({ page }).analyze()
  expect(violations.map(({ id, nodes }) => `${id} ${nodes[0]!.html.slice(0, 200)}`)).toEqual([])
  const saved = page.waitForEvent('download')
  await rules.getByRole('button', { name: 'Save the cleaned file' }).click()
  const cleaned = readFileSync(await (await saved).path(), 'utf8')
  await rules.getByRole('button', { name: 'Close' }).click()
  const packed = page.waitForEvent('download')
  await found.getByRole('button', { name: /^Save \d+ cleaned files?$/ }).click()
  const files = unzipSync(readFileSync(await (await packed).path()))
  const name = Object.keys(files).find((path) => path.endsWith('hollow.css'))!
  expect(strFromU8(files[name]!)).toBe(cleaned)
  expect(strFromU8(files['left-out.csv']!)).toContain('left out')
})
