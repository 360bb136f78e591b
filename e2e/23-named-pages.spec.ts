import { expect, test, type Page } from '@playwright/test'

/** Pages get a name together; a rule says it, another has exceptions; what was made for one page is copied to another. */
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
  for (const { id } of (await (await api.get(`/api${site}/page-sets`)).json()) as { id: number }[])
    await api.delete(`/api${site}/page-sets/${id}`)
  await api.dispose()
})

const form = (page: Page) => page.getByRole('form', { name: 'Rule' })
const rules = (page: Page) => page.getByRole('table', { name: 'Rules' })

async function write(page: Page, addOn: string): Promise<void> {
  await page.getByRole('button', { name: 'A new rule …' }).click()
  await form(page).getByRole('combobox', { name: 'Add-on' }).selectOption({ label: addOn })
  await form(page).getByRole('combobox', { name: 'Is', exact: true }).selectOption({ label: 'files left out' })
}

test('pages that belong together have a name, rules say it, and follow when other pages are in it', async ({
  page,
}) => {
  await page.goto(`${site}/rules`)
  await page.getByRole('button', { name: 'Name some pages …' }).click()
  const set = page.getByRole('form', { name: 'Set of pages' })
  await set.getByRole('textbox', { name: 'Name' }).fill('with a map')
  await set.getByRole('textbox', { name: /^Pages/ }).fill('/contact\n/nowhere')
  await set.getByRole('button', { name: 'Name them' }).click()
  await expect(set.getByRole('alert')).toHaveText('/nowhere is no page that is known.')
  await set.getByRole('textbox', { name: /^Pages/ }).fill('/contact\n/opening-hours')
  await set.getByRole('button', { name: 'Name them' }).click()
  const named = page.getByRole('list', { name: 'Named pages' }).getByRole('listitem').filter({ hasText: 'with a map' })
  await expect(named).toContainText('2 pages')
  await expect(named).toContainText('no rule says it')

  await write(page, 'Pass It On')
  await form(page).getByRole('combobox', { name: 'Where' }).selectOption('named')
  await form(page).getByRole('combobox', { name: 'Called' }).selectOption('with a map')
  await form(page).getByRole('button', { name: 'Draft it' }).click()
  await expect(rules(page)).toContainText('on with a map (2 pages)')
  await expect(named).toContainText('1 draft')
  await expect(named.getByRole('button', { name: 'Forget with a map' })).toBeDisabled()
  // What it spares a page is told by the sweep that is shown.
  await expect(rules(page).getByRole('row', { name: /with a map/ })).toContainText(/\d+ req\.\s·\s[\d.]+\sKB/)

  await named.getByRole('button', { name: 'Change with a map' }).click()
  await set.getByRole('textbox', { name: /^Pages/ }).fill('/contact\n/opening-hours\n/plan-a-visit')
  await set.getByRole('button', { name: 'Change it' }).click()
  await expect(rules(page)).toContainText('on with a map (3 pages)')
})

test('a rule says where it does not hold, and takes that back in the same form', async ({ page }) => {
  await page.goto(`${site}/rules`)
  await write(page, 'Canopy Slider')
  await form(page).getByRole('combobox', { name: 'Where' }).selectOption('public')
  const except = form(page).getByRole('textbox', { name: 'But not on' })
  await except.fill('/\n/events/*')
  await form(page).getByRole('button', { name: 'Draft it' }).click()
  const broad = rules(page).getByRole('row', { name: /files left out.*on all public pages/ })
  await expect(broad).toBeVisible()
  await expect(rules(page).getByRole('row', { name: /kept.*like \/events/ })).toBeVisible()
  await expect(rules(page).getByRole('row', { name: /kept.*on \/ / })).toBeVisible()

  await broad.getByRole('button', { name: /^Change/ }).click()
  await expect(except).toHaveValue(/^(\/\n\/events\/\*|\/events\/\*\n\/)$/)
  await except.fill('/events/*')
  await form(page).getByRole('button', { name: 'Draft it' }).click()
  await expect(rules(page).getByRole('row', { name: /kept.*on \/ / })).toHaveCount(0)
  await expect(rules(page).getByRole('row', { name: /kept.*like \/events/ })).toBeVisible()
})

test('what was made for one page is copied to another, and nothing twice', async ({ page }) => {
  await page.goto(`${site}/rules`)
  await write(page, 'River Level')
  await form(page).getByRole('combobox', { name: 'Where' }).selectOption('set')
  await form(page)
    .getByRole('textbox', { name: /^Pages/ })
    .fill('/contact')
  await form(page).getByRole('button', { name: 'Draft it' }).click()
  await expect(rules(page).getByRole('row', { name: /files left out.*on \/contact/ })).toBeVisible()
  const one = page.getByRole('region', { name: 'On one page' })
  const contact = await one.getByRole('option', { name: /\(\/contact\)/ }).getAttribute('value')
  await one.getByRole('combobox', { name: 'Page', exact: true }).selectOption(contact)
  const copy = one.getByRole('combobox', { name: 'Copy its rules' })
  const hours = await copy.getByRole('option', { name: /\(\/opening-hours\)/ }).getAttribute('value')
  await copy.selectOption(hours)
  await expect(rules(page).getByRole('row', { name: /files left out.*on \/opening-hours/ })).toBeVisible()
})
