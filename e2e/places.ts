import { expect, type APIRequestContext, type Page } from '@playwright/test'

/** The ledger of the site that was looked at last, reached as a maintainer would. */
export async function openLedger(page: Page): Promise<void> {
  await page.goto('/')
  await page.getByRole('link', { name: 'Ledger' }).click()
}

/** The ledger of the stand-in, whatever site was looked at last. */
export async function openStandin(page: Page): Promise<void> {
  await openLedger(page)
  await page.getByRole('banner').getByRole('button', { name: 'Fernhollow Arboretum' }).click()
  await page.getByRole('menuitem', { name: process.env.STANDIN_URL! }).click()
  await expect(page.getByRole('grid')).toBeVisible()
}

/** A page of the stand-in, by its title. */
export async function openPage(page: Page, title: string): Promise<void> {
  await openStandin(page)
  await page.getByRole('link', { name: 'Pages' }).click()
  await page.getByRole('link', { name: new RegExp(`^${title} /`) }).click()
  await expect(page.getByRole('heading', { name: title, level: 1 })).toBeVisible()
}

/** Puts the drafts live without a rehearsal, with the reason that is asked for then. */
export async function putLiveUnrehearsed(page: Page): Promise<void> {
  await page.getByRole('region', { name: 'Draft tray' }).getByRole('button', { name: 'Put live' }).click()
  const window = page.getByRole('dialog', { name: 'These drafts have not been rehearsed' })
  const put = window.getByRole('button', { name: 'Put live all the same' })
  await expect(put).toBeDisabled()
  await window.getByRole('textbox', { name: 'Why they go live all the same' }).fill('Tried by hand.')
  await put.click()
}

/** The sheet of an add-on of the site that was looked at last. */
export async function openAddOn(page: Page, name: string): Promise<void> {
  await page.goto('/')
  const places = page.getByRole('navigation', { name: 'Places' })
  await places.getByRole('link', { name: 'Add-ons' }).click()
  await page.getByRole('searchbox').fill(name)
  await page.getByRole('link', { name: new RegExp(`^${name}\\b`) }).click()
  await expect(page.getByRole('heading', { name, level: 1 })).toBeVisible()
}

/** Takes the newest change of the live rules back, from Rules. What is read before and after is not waited for. */
export async function takeBack(page: Page): Promise<void> {
  const changes = page.getByRole('list', { name: 'Changes of the live rules' }).getByRole('listitem')
  const site = /sites\/(\d+)/.exec(page.url())![1]!
  // What was put live a moment ago is shown before anything is taken back.
  const { version } = await (await page.request.get(`/api/sites/${site}/rules`)).json()
  await expect(page.getByRole('list', { name: 'Versions' }).getByRole('listitem').first()).toContainText(
    new RegExp(`^${version}`),
  )
  await page.getByRole('button', { name: 'Take back' }).first().click()
  // Over only when it is said whether anything is read before and after.
  const newest = async () => (await (await page.request.get(`/api/sites/${site}/deployments`)).json())[0]
  await expect
    .poll(async () => [(await newest()).kind, (await newest()).finishedAt !== null], { timeout: 240_000 })
    .toEqual(['take-back', true])
  await expect(changes.first()).toContainText(/taken back.*live as version/i)
  await cancelSweeps(page.request, site)
  await expect(page.getByRole('group', { name: 'Sweep under way' })).toHaveCount(0)
}

export async function cancelSweeps(request: APIRequestContext, site: string): Promise<void> {
  const path = `${process.env.UNVELT_PAST_URL!}/api/sites/${site}/sweeps`
  for (const { id, status } of await (await request.get(path)).json())
    if (status === 'running') await request.post(`${process.env.UNVELT_PAST_URL!}/api/sweeps/${id}/cancel`)
}

/**
 * No draft of the one site with a past, no sweep of it under way, and the steps that are taken where nobody has said any: what a
 * failed test leaves is no other's.
 */
export async function asNew(request: APIRequestContext): Promise<void> {
  await cancelSweeps(request, '1')
  const site = `${process.env.UNVELT_PAST_URL!}/api/sites/1`
  const { aside } = (await (await request.get(`${site}/drafts`)).json()) as { aside: { rule: { id: string } }[] }
  for (const { rule } of aside) await request.delete(`${site}/drafts/${rule.id}`)
  for (const what of ['drafts', 'steps']) await request.delete(`${site}/${what}`)
}

/** Deletes the sites that an attempt before has registered. */
export async function forgetSites(request: APIRequestContext, address = /./): Promise<void> {
  const sites = (await (await request.get('/api/sites')).json()) as { id: number; name: string; address: string }[]
  for (const { id, name, address: at } of sites)
    if (address.test(at)) {
      for (const sweep of (await (await request.get(`/api/sites/${id}/sweeps`)).json()) as {
        id: number
        status: string
      }[])
        if (sweep.status === 'running') await request.post(`/api/sweeps/${sweep.id}/cancel`)
      expect((await request.delete(`/api/sites/${id}`, { data: { name } })).status()).toBe(204)
    }
}
