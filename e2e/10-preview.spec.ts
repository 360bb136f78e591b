import { expect, test, type Page } from '@playwright/test'
import { asNew } from './places.js'

/** The page as drafts would make it, looked at and tried by hand, and what is done there kept as a step. */
// Wide enough for a desk's page at its full size.
test.use({ baseURL: process.env.UNVELT_PAST_URL!, viewport: { width: 1600, height: 900 } })
test.describe.configure({ mode: 'serial' })
test.afterEach(({ request }) => asNew(request))

const tray = (page: Page) => page.getByRole('region', { name: 'Draft tray' })
const shown = (page: Page) => page.frameLocator('iframe[title="The page as it would be"]')

async function siteOf(page: Page): Promise<string> {
  await page.goto('/')
  await expect(page.getByRole('navigation', { name: 'Places' })).toBeVisible()
  return /sites\/(\d+)/.exec(page.url())![1]!
}
const draft = (page: Page, site: string, rules: object[]) =>
  page.request.post(`/api/sites/${site}/drafts`, { data: { rules } })

test('the page is looked at as drafts would make it, at a desk and on a handset, with each draft on and off', async ({
  page,
}) => {
  const site = await siteOf(page)
  await draft(page, site, [
    { addon: 'ribbon-share', effect: 'leave-out', place: { level: 'everywhere' } },
    {
      addon: 'canopy-slider',
      effect: 'leave-out',
      place: { level: 'page', path: '/' },
      condition: { device: 'handset' },
    },
  ])
  await page.reload()
  await tray(page).getByRole('link', { name: 'Look for yourself' }).click()
  await expect(page.getByRole('heading', { name: '2 drafts' })).toBeVisible()
  expect(new URL(page.url()).hostname).toMatch(/\.localhost$/)
  const path = page.getByRole('combobox', { name: 'Page' })
  await path.fill('/')
  await path.press('Enter')
  const share = shown(page).getByText('Share', { exact: true })
  const slide = shown(page).getByText('1 of 3', { exact: true })
  await expect(slide).toBeVisible()
  await expect(share).toHaveCount(0)
  await page.getByRole('switch', { name: 'Try the draft on Ribbon Share' }).click()
  await expect(page.getByRole('heading', { name: '1 of 2 drafts' })).toBeVisible()
  await expect(share).toBeVisible()

  await page.getByRole('radio', { name: 'Handset' }).click()
  await expect(shown(page).getByRole('button', { name: 'Menu' })).toBeVisible()
  await expect(slide).toHaveCount(0)
  await page.getByRole('radio', { name: 'Desk' }).click()
  await expect(slide).toBeVisible()

  // Links stay inside, and what keeps its own things in the browser works as it does for visitors.
  await shown(page).getByRole('link', { name: 'Seed shop' }).first().click()
  await expect(path).toHaveValue('/shop')
  // The bar may say so before the frame's own address is there.
  const inShop = () => page.frames().find((frame) => frame.url().endsWith('/shop'))
  await expect.poll(() => inShop() !== undefined).toBe(true)
  const page2 = inShop()!
  expect(new URL(page2.url()).hostname).toBe(`page.${new URL(page.url()).hostname}`)
  const kept = await page2.evaluate(() => {
    document.cookie = 'walk=oak'
    sessionStorage.setItem('walk', 'oak')
    return [document.cookie.includes('walk=oak'), sessionStorage.getItem('walk')]
  })
  expect(kept).toEqual([true, 'oak'])

  await page.getByRole('link', { name: 'Back to Fernhollow Arboretum' }).click()
  await tray(page).getByRole('button', { name: 'Throw away' }).click()
  await expect(tray(page)).toHaveCount(0)
})

test('a form that must go on working is recorded by doing it, played twice, and guards the drafts from then on', async ({
  page,
}) => {
  const site = await siteOf(page)
  // Taking all the others is most of a look, and tried elsewhere.
  expect((await page.request.put(`/api/sites/${site}/steps`, { data: { steps: [] } })).ok()).toBe(true)
  await draft(page, site, [
    { addon: 'enquiry-form', effect: 'skip', place: { level: 'everywhere' } },
    { addon: 'enquiry-form', effect: 'keep', place: { level: 'page', path: '/contact' } },
  ])
  await page.goto(`/sites/${site}/preview?path=/contact`)
  await page.getByRole('button', { name: 'Record steps' }).click()
  const done = page.getByRole('list', { name: 'What was done' }).getByRole('listitem')
  await expect(page.getByRole('heading', { name: 'Recording' })).toBeVisible()
  await shown(page).getByLabel('Name').fill('Rowan')
  await shown(page).getByLabel('Email').fill('rowan@example.test')
  await shown(page).getByLabel('Message').fill('Is the ice house open in winter?')
  await shown(page).getByLabel('Message').blur()
  await expect(done).toHaveCount(3)
  await shown(page).getByRole('button', { name: 'Send' }).click()
  await expect(shown(page).getByRole('heading', { name: 'Thank you' })).toBeVisible()
  await page.getByRole('button', { name: 'Expect something' }).click()
  await shown(page).getByRole('heading', { name: 'Thank you' }).click()
  await expect(done).toHaveText([
    'Type “Rowan” into the textbox “Name”',
    'Type “rowan@example.test” into the textbox “Email”',
    'Type “Is the ice house open in winter?” into the textbox “Message”',
    'Press the button “Send”',
    'Expect the heading “Thank you” to be seen',
  ])
  await page.getByRole('button', { name: 'Stop' }).click()
  const keep = page.getByRole('dialog', { name: 'Keep as a step' })
  await keep.getByRole('textbox', { name: /^Name/ }).fill('send a letter')
  await expect(keep.getByRole('checkbox', { name: /It sends a form/ })).toBeChecked()
  await keep.getByRole('button', { name: 'Play it twice' }).click()
  await expect(keep.getByRole('status')).toHaveText('It went through both times.', { timeout: 300_000 })
  await keep.getByRole('button', { name: 'Save the step' }).click()
  await expect(page.getByText('send a letter is kept')).toBeVisible()
  await page.getByRole('link', { name: 'Back to Fernhollow Arboretum' }).click()

  const pages = (await (await page.request.get(`/api/sites/${site}/pages`)).json()) as { id: number; path: string }[]
  const pageIds = ['/contact', '/about'].map((path) => pages.find((one) => one.path === path)!.id)
  const rehearse = () => page.request.post(`/api/sites/${site}/rehearsals`, { data: { pageIds } })
  await rehearse()
  const outcome = tray(page).getByRole('link', { name: /^Rehearsed:/ })
  await expect(outcome).toHaveText(/^Rehearsed: all guards hold/, { timeout: 480_000 })

  // Without the form where it is used, the step says what is missed, and why.
  await page.request.delete(`/api/sites/${site}/drafts`)
  await draft(page, site, [{ addon: 'enquiry-form', effect: 'skip', place: { level: 'page', path: '/contact' } }])
  await page.request.post(`/api/sites/${site}/rehearsals`, { data: { pageIds: [pageIds[0]] } })
  await page.reload()
  await expect(outcome).toHaveText(/guards? fails?/, { timeout: 480_000 })
  await outcome.click()
  const steps = page.getByRole('list', { name: 'What guards found' }).getByRole('listitem').filter({ hasText: 'Steps' })
  await expect(steps).toContainText('send a letter')
  await tray(page).getByRole('button', { name: 'Throw away' }).click()
  await page.request.delete(`/api/sites/${site}/steps`)
})
