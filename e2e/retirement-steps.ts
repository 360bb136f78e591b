import { expect, type Page, type PlaywrightWorkerArgs } from '@playwright/test'

interface SiteOfApi {
  id: number
  address: string
}

const standin = (sites: SiteOfApi[]) => sites.find(({ address }) => address === process.env.STANDIN_URL)!.id

/** Opens a place of the stand-in's site, which is not the only one by now. */
export async function open(page: Page, where: string): Promise<void> {
  await page.goto(`/sites/${standin((await (await page.request.get('/api/sites')).json()) as SiteOfApi[])}/${where}`)
}

/** Looks are taken at a desk and without steps, which most of a look's time goes into; others test both. */
export async function lookQuickly(playwright: PlaywrightWorkerArgs['playwright']): Promise<void> {
  const api = await playwright.request.newContext({ baseURL: process.env.UNVELT_URL! })
  const site = `/api/sites/${standin((await (await api.get('/api/sites')).json()) as SiteOfApi[])}`
  const lenses = (await (await api.get(`${site}/lenses`)).json()) as { id: number; device: { phone: boolean } }[]
  for (const { id, device } of lenses) if (device.phone) await api.delete(`${site}/lenses/${id}`)
  expect((await api.put(`${site}/steps`, { data: { steps: [] } })).ok()).toBe(true)
  await api.dispose()
}

/** A step of the retirement's sheet. */
export const step = (page: Page, name: string) =>
  page
    .getByRole('list', { name: 'Steps' })
    .getByRole('listitem')
    .filter({ has: page.getByRole('heading', { name }) })

export const isDone = (page: Page, name: string) =>
  expect(step(page, name).getByRole('img', { name: 'done', exact: true })).toBeVisible({ timeout: 60_000 })

/** One reading a page is enough to see what is gone. */
export async function sweepOnce(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'Set up a sweep' }).click()
  const setup = page.getByRole('dialog')
  await setup.getByLabel(/^Read each page/).fill('1')
  await setup.getByRole('button', { name: 'Start the sweep' }).click()
  const underWay = page.getByRole('group', { name: 'Sweep under way' })
  await expect(underWay).toBeVisible()
  await expect(underWay).toHaveCount(0, { timeout: 200_000 })
}

/** Plays the guards on the live site, at a desk, and waits until each page has been looked at. */
export async function playGuards(page: Page): Promise<void> {
  await open(page, 'rules')
  await page.getByRole('button', { name: 'Play the guards on the live site' }).click()
  await expect(page.getByRole('heading', { name: 'Guards on the live site' })).toBeVisible()
  const views = page.getByRole('table', { name: 'Guards' })
  await expect(views.getByRole('row').nth(1)).toBeVisible()
  await expect(views.getByText('to come')).toHaveCount(0, { timeout: 300_000 })
  await expect(page.getByText(/^All guards hold\./)).toBeVisible()
  await expect(page.getByText('Later rounds are held against this one')).toBeVisible()
}
