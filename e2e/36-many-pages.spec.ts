import { expect, test } from '@playwright/test'

/** A list of a thousand pages: one is found by its name, and any of them is reached by scrolling. */
test.use({ baseURL: process.env.UNVELT_PAST_URL! })

const MORE = 1_000

test('a page is found among many by what it is called, and all of them can be scrolled through', async ({ page }) => {
  // The site is as it is, but for many pages more that nobody has read.
  await page.route(/\/api\/sites\/1\/ledger(\?|$)/, async (route) => {
    const response = await route.fetch()
    const ledger = (await response.json()) as { pages: Record<string, unknown>[]; unreadPages: number[] }
    const { length } = ledger.pages
    const more = Array.from({ length: MORE }, (_, n) => ({
      ...ledger.pages[0]!,
      id: 100_000 + n,
      title: `Herb ${n}`,
      path: `/herbs/${n}`,
      kind: 'herb',
    }))
    await route.fulfill({
      response,
      json: {
        ...ledger,
        pages: [...ledger.pages, ...more],
        unreadPages: [...ledger.unreadPages, ...more.map((_, n) => length + n)],
      },
    })
  })
  await page.goto('/sites/1/pages')
  const table = page.getByRole('table', { name: 'Pages' })
  await expect(table).toHaveAttribute('aria-rowcount', String(66 + MORE + 1))
  // What is not seen is not drawn.
  expect(await table.getByRole('row').count()).toBeLessThan(120)
  const edges = () =>
    table.getByRole('columnheader').evaluateAll((heads) => heads.map((head) => head.getBoundingClientRect().left))
  const before = await edges()

  await table.getByRole('button', { name: 'Page', exact: true }).click()
  await expect(table.getByRole('row').nth(1)).toContainText(/^\w/)
  await table
    .getByRole('link', { name: /\/herbs\// })
    .first()
    .hover()
  const last = table.locator(`[aria-rowindex="${66 + MORE + 1}"]`)
  await expect(async () => {
    await page.mouse.wheel(0, 20_000)
    await expect(last).toBeInViewport({ timeout: 200 })
  }).toPass()
  await expect(table.getByRole('columnheader').first()).toBeInViewport()
  expect(await edges()).toEqual(before)

  const find = page.getByRole('searchbox', { name: 'Filter pages' })
  await find.fill('/herbs/77')
  await expect(page.getByRole('status').filter({ hasText: /of 1,066/ })).toHaveText('11 of 1,066')
  await expect(table.getByRole('row')).toHaveCount(12)
  await expect(page).toHaveURL(/q=%2Fherbs%2F77/)
  await find.fill('nowhere at all')
  await page.getByRole('button', { name: 'Show all' }).click()
  await expect(table).toHaveAttribute('aria-rowcount', String(66 + MORE + 1))
  await expect(find).toHaveValue('')
})
