import { AxeBuilder } from '@axe-core/playwright'
import { expect, test, type Page } from '@playwright/test'
import { asNew } from './places.js'

/** Hours in which nothing goes live, and drafts that wait for theirs. */
test.use({ baseURL: process.env.UNVELT_PAST_URL!, timezoneId: 'UTC' })

test.beforeEach(({ request }) => asNew(request))

const DAYS = ['Sun', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat']
const place = (page: Page, name: string) => page.getByRole('navigation', { name: 'Places' }).getByRole('link', { name })

test('in an hour in which nothing goes live drafts are put off, which can be withdrawn', async ({ page }) => {
  await page.goto('/')
  await place(page, 'Settings').click()
  const quiet = page.getByRole('region', { name: 'When nothing goes live' })
  await expect(quiet).toContainText('Changes go live at any hour.')
  const site = /sites\/\d+/.exec(page.url())![0]
  const rules = [{ addon: 'moon-phase', effect: 'skip', place: { level: 'page', path: '/about' } }]
  await page.request.post(`/api/${site}/drafts`, { data: { rules } })
  try {
    await quiet.getByRole('button', { name: 'Add hours' }).click()
    const days = quiet.getByRole('group', { name: 'Days of time 1' })
    await days.getByRole('button', { name: 'Fri' }).click()
    await expect(quiet.getByRole('button', { name: 'Save' })).toBeDisabled()
    // Today's, and tomorrow's in case that midnight comes meanwhile.
    const today = new Date().getUTCDay()
    for (const day of [today, (today + 1) % 7]) await days.getByRole('button', { name: DAYS[day]! }).click()
    await quiet.getByLabel('Time 1 from').fill('00:00')
    await quiet.getByLabel('Time 1 until').fill('00:00')
    await quiet.getByRole('button', { name: 'Save' }).click()
    await expect(quiet.getByRole('button', { name: 'Save' })).toBeDisabled()
    const { violations } = await new AxeBuilder({ page }).include('[aria-label="When nothing goes live"]').analyze()
    expect(violations.map(({ id, nodes }) => `${id} ${nodes[0]!.html.slice(0, 200)}`)).toEqual([])

    await page.reload()
    const tray = page.getByRole('region', { name: 'Draft tray' })
    await tray.getByRole('button', { name: 'Put live' }).click()
    const window = page.getByRole('dialog', { name: 'Nothing goes live at this hour' })
    await expect(window.getByLabel('They go live', { exact: false }).first()).toHaveValue(/T00:00$/)
    await window.getByRole('textbox', { name: /^Why they go live/ }).fill('Agreed with the desk.')
    const due = window.locator('input[type=datetime-local]')
    await due.fill(new Date(Date.now() + 3_600_000).toISOString().slice(0, 16))
    await window.getByRole('button', { name: 'Put off until then' }).click()
    await expect(window.getByRole('alert')).toContainText('Nothing goes live on')
    await due.fill(`${new Date(Date.now() + 3 * 86_400_000).toISOString().slice(0, 10)}T06:30`)
    await window.getByRole('button', { name: 'Put off until then' }).click()
    await expect(window).toHaveCount(0)
    const waiting = tray.getByRole('status').filter({ hasText: 'Goes live' })
    await expect(waiting).toContainText(/06:30 by itself: Moon Phase/)
    await expect(tray.getByRole('button', { name: 'Later …' })).toBeDisabled()
    await page.reload()
    await waiting.getByRole('button', { name: 'Withdraw it' }).click()
    await expect(waiting).toHaveCount(0)
    await expect(tray).toContainText('1 draft')

    await quiet.getByRole('button', { name: 'Remove time 1' }).click()
    await quiet.getByRole('button', { name: 'Save' }).click()
    await expect(quiet).toContainText('Changes go live at any hour.')
    await tray.getByRole('button', { name: 'Later …' }).click()
    await expect(page.getByRole('dialog', { name: 'Put live later' })).toBeVisible()
  } finally {
    await page.request.patch(`/api/${site}`, { data: { quiet: { zone: 'UTC', times: [] } } })
    await page.request.delete(`/api/${site}/drafts`)
  }
})
