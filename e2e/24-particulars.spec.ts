import { AxeBuilder } from '@axe-core/playwright'
import { expect, test, type Page } from '@playwright/test'

/** What rules say beside their effect. */
test.describe.configure({ mode: 'serial' })

let site: string
test.beforeAll(async ({ playwright }) => {
  const api = await playwright.request.newContext({ baseURL: process.env.UNVELT_PAST_URL! })
  const [{ id }] = (await (await api.get('/api/sites')).json()) as [{ id: number }]
  site = `/sites/${id}`
  await api.dispose()
})
test.use({ baseURL: process.env.UNVELT_PAST_URL! })
test.afterAll(async ({ playwright }) => {
  const api = await playwright.request.newContext({ baseURL: process.env.UNVELT_PAST_URL! })
  await api.delete(`/api${site}/drafts`)
  await api.dispose()
})

const form = (page: Page) => page.getByRole('form', { name: 'Rule' })
const rules = (page: Page) => page.getByRole('table', { name: 'Rules' })

async function write(page: Page, effect: string): Promise<void> {
  await page.getByRole('button', { name: 'A new rule …' }).click()
  await form(page).getByRole('combobox', { name: 'Add-on' }).selectOption({ label: 'Letterloft fonts' })
  await form(page).getByRole('combobox', { name: 'Is', exact: true }).selectOption({ label: effect })
}
const draftIt = (page: Page) => form(page).getByRole('button', { name: 'Draft it' }).click()

test('a copy says how it is kept and why it may be, and is found wanting as long as nobody says so', async ({
  page,
}) => {
  await page.goto(`${site}/rules`)
  await write(page, 'served by the own host')
  await form(page).getByRole('textbox', { name: 'Fetched anew after' }).fill('400')
  await draftIt(page)
  await expect(form(page).getByRole('alert')).toHaveText('Expected a whole number from 1 to 365.')
  await form(page).getByRole('textbox', { name: 'Fetched anew after' }).fill('7')
  await draftIt(page)
  await expect(rules(page)).toContainText('fetched anew every 7 days')
  const finding = page
    .getByRole('region', { name: 'Findings' })
    .getByRole('listitem')
    .filter({ hasText: 'may be copied' })
  await expect(finding).toBeVisible()
  // With rules and findings on it the place has more to it than the one that is looked at elsewhere.
  // What is said in passing has come all the way in.
  await expect(page.getByRole('button', { name: 'Undo' })).toBeVisible()
  await page.evaluate(() => Promise.all(document.getAnimations().map(({ finished }) => finished)))
  const { violations } = await new AxeBuilder({ page }).analyze()
  expect(violations.map(({ id, nodes }) => `${id} ${nodes[0]!.html.slice(0, 200)}`)).toEqual([])
  await finding.getByRole('textbox', { name: 'Licence, or whose word it is' }).fill('OFL 1.1')
  await finding.getByRole('button', { name: 'Draft it' }).click()
  await expect(rules(page)).toContainText('fetched anew every 7 days; may be copied: OFL 1.1')
  await expect(finding).toHaveCount(0)
})

test('fonts of the system are fitted, and hosts are those that the sweep saw unless others are named', async ({
  page,
}) => {
  await page.goto(`${site}/rules`)
  await write(page, 'system font instead')
  await expect(form(page).getByRole('note')).toContainText(/Hollow Sans 400 by Arial at \d+ %/)
  await draftIt(page)
  await expect(rules(page)).toContainText(/Hollow Serif \d+ by Times New Roman.* at \d+ %/)

  await page.getByRole('button', { name: /^Change Letterloft fonts/ }).click()
  await form(page).getByRole('combobox', { name: 'Is', exact: true }).selectOption({ label: 'connected early' })
  const hosts = form(page).getByRole('textbox', { name: 'Connected to' })
  await hosts.fill('fonts.example')
  await draftIt(page)
  await expect(form(page).getByRole('alert')).toContainText('Expected an address such as https://host.example')
  await hosts.fill('')
  await draftIt(page)
  await expect(rules(page)).toContainText(/letterloft\.localhost:\d+ \(fonts\)/)
  await expect(rules(page)).not.toContainText('Times New Roman')
})

test('whoever writes on a draft that somebody else has changed meanwhile is told, and loses nothing', async ({
  page,
  context,
}) => {
  await page.goto(`${site}/rules`)
  const other = await context.newPage()
  await other.goto(`${site}/rules`)
  for (const tab of [page, other]) await tab.getByRole('button', { name: /^Change Letterloft fonts/ }).click()
  const effect = (tab: Page) => form(tab).getByRole('combobox', { name: 'Is', exact: true })
  await effect(other).selectOption({ label: 'files left out' })
  await draftIt(other)
  await expect(rules(other)).toContainText('files left out')

  await form(page).getByRole('textbox', { name: 'Note' }).fill('Only while the beech is down')
  await effect(page).selectOption({ label: 'held until the page is idle' })
  await draftIt(page)
  await expect(form(page).getByRole('alert')).toContainText(
    'Somebody has changed this draft meanwhile. It is files left out there now.',
  )
  await expect(form(page).getByRole('textbox', { name: 'Note' })).toHaveValue('Only while the beech is down')
  await form(page).getByRole('button', { name: 'Draft this instead' }).click()
  await expect(form(page)).toHaveCount(0)
  await expect(rules(page)).toContainText('held until the page is idle')
  await expect(rules(page)).not.toContainText('files left out')
  await other.close()
})
