import { expect, test, type Page } from '@playwright/test'

/** What nobody has installed is weighed against what is there, and leaves no trace. */
test.use({ baseURL: process.env.UNVELT_PAST_URL! })
test.describe.configure({ mode: 'serial' })

const place = (page: Page, name: string) => page.getByRole('navigation', { name: 'Places' }).getByRole('link', { name })
const variant = (page: Page, n: number) => page.getByRole('listitem', { name: `Variant ${n}` })

async function choose(page: Page, n: number, sort: string, which: string | RegExp): Promise<void> {
  const card = variant(page, n)
  await card.getByRole('combobox', { name: 'What is other' }).selectOption({ label: sort })
  const list = card.getByRole('combobox', { name: 'Which' })
  const option = list.getByRole('option', { name: which })
  await list.selectOption(await option.first().getAttribute('value'))
}

/** What the site has, by Unvelt's own list of it, asked for anew. */
async function inventory(page: Page): Promise<string[]> {
  const site = /sites\/(\d+)/.exec(page.url())![1]!
  await page.request.post(`/api/sites/${site}/refresh`)
  const addOns = (await (await page.request.get(`/api/sites/${site}/add-ons`)).json()) as {
    slug: string
    version: string
    gone: boolean
    tables: { name: string }[]
    tasks: object[]
  }[]
  return addOns.map(({ slug, version, gone, tables, tasks }) =>
    JSON.stringify([slug, version, gone, tables.map(({ name }) => name), tasks.length]),
  )
}

test('the paid edition is weighed against the free one and one of the shelf, and no trace is left', async ({
  page,
}) => {
  await page.goto('/')
  await place(page, 'Add-ons').click()
  await page.getByRole('link', { name: 'Pass It On' }).first().click()
  await page.getByRole('link', { name: 'Weigh it …' }).click()
  await expect(page.getByRole('heading', { name: 'Weigh something' })).toBeVisible()
  const before = await inventory(page)
  // Paid is what the demo has; the free one is on the shelf.
  await expect(variant(page, 2)).toContainText('without Pass It On')
  await expect(variant(page, 3)).toContainText('Pass It On 3.0.4')
  await choose(page, 2, 'with one of the shelf', /^Plain Share/)
  await variant(page, 2).getByRole('textbox', { name: 'Called' }).fill('Plain Share')
  await variant(page, 1).getByRole('textbox', { name: 'Price a year' }).fill('49')
  await page.getByRole('combobox', { name: 'Another page' }).selectOption({ label: 'Contact /contact' })
  await page.getByRole('button', { name: 'Not Fernhollow Arboretum' }).click()
  await page.getByRole('spinbutton').fill('3')
  await page.getByRole('button', { name: 'Read 9 times' }).click()

  await expect(page.getByText(/9 readings so far/)).toBeVisible()
  const table = page.getByRole('table', { name: 'Contact under each variant' })
  await expect(page.getByRole('button', { name: 'Throw away', exact: true })).toBeVisible({ timeout: 300_000 })
  await expect(page.getByText('9 readings', { exact: false }).first()).toBeVisible()
  const requests = table.getByRole('row', { name: /^Requests/ }).getByRole('cell')
  // Seven requests that show nothing.
  await expect(requests.nth(2)).toContainText('−7')
  await expect(requests.nth(2)).toContainText('better')
  await expect(page.getByRole('list', { name: 'In words' })).toContainText(/Pass It On 3\.0\.4: 7 requests less/)
  await expect(table.getByRole('row', { name: /^Price a year/ })).toContainText('49')
  for (const name of ['As it is', 'Plain Share', 'Pass It On 3.0.4'])
    await expect(page.getByRole('img', { name: `The page: ${name}`, exact: true })).toBeVisible()
  expect(await inventory(page)).toEqual(before)

  // Once weighed it stands wherever the add-on does.
  await place(page, 'Weigh-ins').click()
  const entry = page.getByRole('list', { name: 'Weigh-ins' }).getByRole('listitem').first()
  await expect(entry).toContainText('As it is · Plain Share · Pass It On 3.0.4')
  await expect(entry).toContainText('−7 requests')
  await place(page, 'Add-ons').click()
  await page.getByRole('link', { name: 'Pass It On' }).first().click()
  await page
    .getByRole('region', { name: 'Weighed' })
    .getByRole('link', { name: /^As it is · Plain Share/ })
    .click()
  await expect(page.getByRole('heading', { name: 'As it is · Plain Share · Pass It On 3.0.4' })).toBeVisible()
  await page.getByRole('button', { name: 'Throw away', exact: true }).click()
  // What the demo's past holds stays.
  const rest = page.getByRole('list', { name: 'Weigh-ins' }).getByRole('listitem')
  await expect(rest).toHaveCount(1)
  await expect(rest).toContainText('Which share bar?')
})

test('a setting is made a row of variants, and what can’t be weighed is said where it stands', async ({ page }) => {
  await page.goto('/')
  await place(page, 'Weigh-ins').click()
  await page.getByRole('link', { name: 'Weigh something …' }).click()
  await expect(page.getByText('A variant is still the page as it is.')).toBeVisible()
  await expect(page.getByRole('button', { name: /^Read \d+ times/ })).toBeDisabled()
  const row = page.getByRole('region', { name: 'A row of values' })
  const setting = row.getByRole('combobox', { name: 'Setting' })
  await setting.selectOption({ label: 'Walk Almanac: Walks in a list, at most (10 now)' })
  await row.getByRole('textbox', { name: 'Values' }).fill('5, 60')
  await expect(row.getByRole('alert')).toHaveText('Expected whole numbers from 1 to 50.')
  await row.getByRole('textbox', { name: 'Values' }).fill('50 5, 10')
  await row.getByRole('button', { name: 'Make these the variants' }).click()
  await expect(page.getByRole('list', { name: 'Variants' }).getByRole('listitem')).toHaveCount(3)
  await expect(variant(page, 1)).toContainText('Walks in a list, at most: 5')
  await page.getByRole('button', { name: 'One more variant' }).click()
  await choose(page, 4, 'with a feature off', 'Canopy Slider: Transitions')
  await expect(page.getByRole('button', { name: 'Read 24 times' })).toBeEnabled()
})

test('a setting is weighed along its values on copies that nobody else can find, and the curve is drawn', async ({
  page,
}) => {
  await page.goto('/')
  await place(page, 'Weigh-ins').click()
  await page.getByRole('link', { name: 'Weigh something …' }).click()
  await page.getByRole('combobox', { name: 'Another page' }).selectOption({ label: 'Plan a visit /plan-a-visit' })
  await page.getByRole('button', { name: 'Not Fernhollow Arboretum' }).click()
  const row = page.getByRole('region', { name: 'A row of values' })
  await row
    .getByRole('combobox', { name: 'Setting' })
    .selectOption({ label: 'Walk Almanac: Walks in a list, at most (10 now)' })
  await row.getByRole('textbox', { name: 'Values' }).fill('1 3 10')
  await row.getByRole('button', { name: 'Make these the variants' }).click()
  await page.getByRole('combobox', { name: 'On', exact: true }).selectOption('copies that nobody else can find')
  await page.getByRole('spinbutton').fill('3')
  await page.getByRole('button', { name: 'Read 9 times' }).click()

  await expect(page.getByText('3 variants of a copy of 1 page', { exact: false })).toBeVisible()
  await expect(page.getByRole('button', { name: 'Throw away', exact: true })).toBeVisible({ timeout: 300_000 })
  const table = page.getByRole('table', { name: 'Plan a visit under each variant' })
  await expect(
    table
      .getByRole('row', { name: /^Elements/ })
      .getByRole('cell')
      .nth(2),
  ).toContainText('worse')
  await page.getByRole('combobox', { name: 'Along the values' }).selectOption('Elements')
  await expect(page.getByRole('img', { name: /Elements by walks in a list/ })).toBeVisible()
  await expect(page.getByText(/It runs straight|It bends most at/)).toBeVisible()
  await page.getByRole('button', { name: 'Throw away', exact: true }).click()
})
