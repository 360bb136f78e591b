import { expect, test } from '@playwright/test'

/** Two sweeps of the demo's past are set side by side, and agree with what Standing says of them. */

test.use({ baseURL: process.env.UNVELT_PAST_URL! })

/** A figure with its unit as bytes. */
const bytesOf = (text: string): number => {
  const [, sign, figure, unit] = /([+−]?)([\d.,]+)\s(B|KB|MB)/.exec(text)!
  const value = Number(figure!.replaceAll(',', '')) * { B: 1, KB: 1e3, MB: 1e6 }[unit!]!
  return sign === '−' ? -value : value
}

test('what changed since the sweep before is told page by page, and adds up to what Standing says', async ({
  page,
}) => {
  await page.goto('/')
  await page.getByRole('link', { name: 'Standing', exact: true }).click()
  const changes = page.getByRole('region', { name: 'What changed' })
  const change = changes.getByRole('row', { name: /Pass It On updated/ })
  const inAll = bytesOf((await change.getByRole('cell').last().textContent())!)
  await changes.getByRole('link', { name: 'Side by side' }).click()

  await expect(page.getByRole('heading', { name: 'Two sweeps side by side' })).toBeVisible()
  await expect(page.getByLabel('What differs besides')).toContainText('repeats 1 against 3')
  const who = page.getByRole('table', { name: /^Who differs/ })
  const doer = who.getByRole('row', { name: /Pass It On/ })
  await expect(doer).toContainText('updated, 3.0.4 → 3.0.4-plus')
  const mean = page.getByRole('table', { name: 'The mean page' })
  const pages = Number(/of (\d+) pages/.exec((await mean.textContent())!)![1])
  // Standing rounds to three digits, and so does the mean page.
  const each = bytesOf((await doer.getByRole('cell').nth(2).textContent())!)
  expect(Math.abs((each * pages) / inAll - 1)).toBeLessThan(0.01)
  const difference = () =>
    mean
      .getByRole('row', { name: /^Transfer/ })
      .getByRole('cell')
      .nth(2)
  await expect(difference()).toContainText('+')

  await page.getByRole('button', { name: 'Swap sides' }).click()
  await expect(difference()).toContainText('−')
  await page.getByRole('combobox', { name: 'Pages' }).selectOption('tree')
  await page.getByRole('link', { name: /^On which pages/ }).click()
  const trees = page.getByRole('table', { name: /^Pages of/ })
  await expect(trees.getByRole('button', { name: '/trees/weeping-beech' })).toBeVisible()
  await expect(trees.getByRole('button', { name: /^\/shop/ })).toHaveCount(0)
  await trees.getByRole('button', { name: '/trees/weeping-beech' }).click()
  await expect(page.getByRole('table', { name: 'The mean page' })).toContainText('Weeping beech')

  // What is chosen stands in the address.
  await page.reload()
  await expect(page.getByRole('table', { name: 'The mean page' })).toContainText('Weeping beech')
  await expect(difference()).toContainText('−')
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save as CSV' }).click(),
  ])
  expect(file.suggestedFilename()).toMatch(/^sweep-\d+-against-\d+\.csv$/)
})
