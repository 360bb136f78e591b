import { expect, test, type Page } from '@playwright/test'
import { askSite } from '../testing/ask-site.js'
import { asNew, putLiveUnrehearsed, takeBack } from './places.js'

/** A change that breaks a guard once it is live is taken back by itself, and who broke it is named. */
test.use({ baseURL: process.env.UNVELT_PAST_URL! })
test.describe.configure({ timeout: 480_000 })
test.beforeEach(({ request }) => asNew(request))

const place = (page: Page, name: string) => page.getByRole('navigation', { name: 'Places' }).getByRole('link', { name })
const site = '/api/sites/1'
const visitorSees = async () => (await askSite(process.env.STANDIN_PAST_URL!, '/contact')).text

test('a put that breaks a guard is taken back by itself, and what broke it is set aside', async ({ page }) => {
  await page.goto('/')
  await place(page, 'Settings').click()
  const net = page.getByRole('region', { name: 'Once a change is live' })
  await net.getByRole('radio', { name: /take it back where one fails/ }).check()
  await expect(net.getByRole('radio', { name: /take it back where one fails/ })).toBeChecked()
  try {
    const before = await visitorSees()
    expect(before).toContain('<form')
    const onContact = { level: 'page', path: '/contact' }
    const rules = ['enquiry-form', 'link-warden'].map((addon) => ({ addon, effect: 'skip', place: onContact }))
    expect((await page.request.post(`${site}/drafts`, { data: { rules } })).ok()).toBe(true)
    await place(page, 'Rules').click()
    await expect(page.getByRole('heading', { name: 'Rules', level: 1 })).toBeVisible()
    await page.reload()
    await page
      .getByRole('region', { name: 'Draft tray' })
      .getByLabel('Pages to read before and after')
      .selectOption('none')
    await putLiveUnrehearsed(page)

    const underWay = page.getByRole('region', { name: 'Change under way' })
    await expect(underWay).toContainText('Live, and looked after', { timeout: 300_000 })
    await expect(underWay.getByRole('link', { name: /^Guards played on \d of \d views?/ })).toBeVisible()
    expect(await visitorSees()).not.toBe(before)
    await expect(underWay).toHaveCount(0, { timeout: 480_000 })
    expect(await visitorSees()).toBe(before)
    const newest = page.getByRole('list', { name: 'Changes of the live rules' }).getByRole('listitem').first()
    await expect(newest).toContainText('taken back by itself')

    // The guilty one is named, and the other one is a draft still.
    const aside = page.getByRole('region', { name: 'Set aside' })
    await expect(aside).toContainText('Enquiry Form', { timeout: 480_000 })
    await expect(aside).toContainText('Breaks')
    await expect(aside).not.toContainText('Link Warden')
    await expect(page.getByRole('region', { name: 'Draft tray' })).toContainText('1 draft')
  } finally {
    const running = (await (await page.request.get(`${site}/rehearsals`)).json()) as { id: number; state: string }[]
    for (const { id, state } of running) if (state === 'running') await page.request.post(`/api/rehearsals/${id}/stop`)
    const { aside } = (await (await page.request.get(`${site}/drafts`)).json()) as { aside: { rule: { id: string } }[] }
    for (const { rule } of aside) await page.request.delete(`${site}/drafts/${rule.id}`)
    await page.request.delete(`${site}/drafts`)
    await page.request.patch(site, { data: { net: 'off' } })
  }
})

test('in parts it goes live on one page of each kind first, and on the rest when all guards hold there', async ({
  page,
}) => {
  await page.goto('/')
  const rules = [{ addon: 'moon-phase', effect: 'skip', place: { level: 'kind', kind: 'article' } }]
  expect((await page.request.post(`${site}/drafts`, { data: { rules } })).ok()).toBe(true)
  await place(page, 'Rules').click()
  await expect(page.getByRole('heading', { name: 'Rules', level: 1 })).toBeVisible()
  await page.reload()
  const tray = page.getByRole('region', { name: 'Draft tray' })
  await tray.getByLabel('Pages to read before and after').selectOption('none')
  await tray.getByRole('button', { name: 'In parts …' }).click()
  await page.getByRole('menuitem', { name: /^Put live in parts/ }).click()
  const window = page.getByRole('dialog', { name: 'These drafts have not been rehearsed' })
  await expect(window).toContainText('on one page of each kind first')
  await window.getByRole('textbox', { name: 'Why they go live all the same' }).fill('Tried by hand.')
  await window.getByRole('button', { name: 'Put live all the same' }).click()
  const underWay = page.getByRole('region', { name: 'Change under way' })
  await expect(underWay).toContainText('Live on 1 page so far', { timeout: 300_000 })
  await expect(
    page
      .getByRole('table', { name: 'Rules' })
      .getByRole('row', { name: /Moon Phase.*on \/articles\/|on \/articles\/.*/ }),
  ).toHaveCount(1)
  await expect(underWay).toHaveCount(0, { timeout: 480_000 })
  const newest = page.getByRole('list', { name: 'Changes of the live rules' }).getByRole('listitem').first()
  await newest.click()
  await expect(newest).toContainText('In parts: first on one page')
  await expect(newest).toContainText('So it goes on to the rest.')
  await expect(
    page.getByRole('table', { name: 'Rules' }).getByRole('row', { name: /every page of kind article/ }),
  ).toHaveCount(1)
  // Both parts were one change, and go as one.
  await takeBack(page)
  const { versions } = (await (await page.request.get(`${site}/rules`)).json()) as {
    versions: { rules: { addon: string }[] }[]
  }
  expect(versions[0]!.rules.filter(({ addon }) => addon === 'moon-phase')).toEqual([])
})
