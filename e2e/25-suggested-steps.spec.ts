import { expect, test } from '@playwright/test'

/** Steps that the pages suggest by what they have. */
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
  await api.delete(`/api${site}/steps`)
  await api.dispose()
})

test('steps that the pages suggest are tried, added by a press, and taken back by another', async ({ page }) => {
  await page.goto(`${site}/settings`)
  const part = page.getByRole('group', { name: 'Suggested steps' })
  await part.getByRole('button', { name: /^Look/ }).click()
  await expect(part.getByRole('status')).toContainText(/\d+ of \d+ views looked at/)
  await expect(part).toContainText('open Menu', { timeout: 300_000 })
  await part.getByRole('button', { name: 'Stop looking' }).click()
  await expect(part.getByRole('button', { name: 'Look again' })).toBeVisible()
  const idea = part.getByRole('listitem').filter({ hasText: 'open Menu' }).first()
  await expect(idea).toContainText('press the button “Menu”')
  await expect(idea).toContainText(/expect the link “.+” to be seen/)
  await idea.getByRole('button', { name: 'Add open Menu' }).click()
  const steps = page.getByRole('region', { name: 'Steps' })
  await expect(steps.getByRole('button', { name: 'Change open Menu' })).toBeVisible()
  await expect(part.getByRole('button', { name: 'Add open Menu' })).toHaveCount(0)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(steps.getByRole('button', { name: 'Change open Menu' })).toHaveCount(0)
  await expect(part.getByRole('button', { name: 'Add open Menu' })).toBeVisible()
})
