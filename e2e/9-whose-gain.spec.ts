import { AxeBuilder } from '@axe-core/playwright'
import { expect, test, type Page } from '@playwright/test'
import { asNew, cancelSweeps, putLiveUnrehearsed, takeBack } from './places.js'

/** What comes behind a change: its proof, whose gain it is, both loads on one clock, and the figures that it has made old. */
test.use({ baseURL: process.env.UNVELT_PAST_URL! })
test.describe.configure({ mode: 'serial' })

const place = (page: Page, name: string) => page.getByRole('navigation', { name: 'Places' }).getByRole('link', { name })
const noFinding = async (page: Page, inside: string) => {
  const { violations } = await new AxeBuilder({ page }).include(inside).analyze()
  expect(violations.map(({ id, nodes }) => `${id} ${nodes[0]!.html.slice(0, 200)}`)).toEqual([])
}
const tray = (page: Page) => page.getByRole('region', { name: 'Draft tray' })
const CHANGE = /2 rules on (Pass It On and Moon Phase|Moon Phase and Pass It On)/
const onAbout = { level: 'page', path: '/about' }

test.beforeAll(({ request }) => asNew(request))
test.afterAll(({ request }) => cancelSweeps(request, '1'))

test('of two changes that go live together each has its share, and the one that does nothing is named', async ({
  page,
}) => {
  await page.goto('/')
  await expect(place(page, 'Rules')).toBeVisible()
  const rules = ['pass-it-on', 'moon-phase'].map((addon) => ({ addon, effect: 'skip', place: onAbout }))
  expect((await page.request.post('/api/sites/1/drafts', { data: { rules } })).ok()).toBe(true)
  await page.reload()
  await putLiveUnrehearsed(page)
  await expect(tray(page)).toHaveCount(0, { timeout: 300_000 })
  await place(page, 'Proof').click()
  await page.getByRole('link', { name: CHANGE }).first().click()
  const whose = page.getByRole('region', { name: 'Whose gain it is' })
  await expect(whose).toBeVisible({ timeout: 300_000 })
  await expect(whose).toContainText('4 sets of changes, 16 readings')
  await whose.getByRole('button', { name: 'Find whose gain it is' }).click()
  await expect(whose.getByRole('status')).toHaveText(/^16 readings of \/about, /, { timeout: 300_000 })

  const table = whose.getByRole('table', { name: 'Whose gain it is on /about' })
  const transfer = async (row: RegExp) =>
    Number(await table.getByRole('row', { name: row }).getByRole('cell').nth(1).locator('data').getAttribute('value'))
  const [share, idler, together] = [
    await transfer(/^Pass It On/),
    await transfer(/^Moon Phase/),
    await transfer(/^Together/),
  ]
  expect(share).toBeLessThan(-50_000)
  expect(Math.abs(idler)).toBeLessThan(1000)
  expect(share + idler).toBeCloseTo(together, 3)
  await expect(
    table
      .getByRole('row', { name: /^Moon Phase/ })
      .getByRole('cell')
      .first(),
  ).toHaveText(/nothing/)
  // The proof's own readings say the same of both together.
  const before = page.getByRole('table', { name: 'Before and after of About the arboretum' })
  const [was, is] = await before
    .getByRole('row', { name: /^Transfer/ })
    .locator('data')
    .evaluateAll((all) => all.map((one) => Number(one.getAttribute('value'))))
  expect(Math.abs(is! - was! - together)).toBeLessThan(3000)
  await noFinding(page, 'main')
})

test('both loads are seen on one clock, played, stepped and sent back', async ({ page }) => {
  await page.goto('/sites/1/proof')
  await page.getByRole('link', { name: CHANGE }).first().click()
  await page.getByRole('button', { name: 'Film both loads' }).click()
  const film = page.getByRole('group', { name: 'Both loads on one clock' })
  await expect(film).toBeVisible({ timeout: 300_000 })
  const seen = film.getByRole('img')
  await expect(seen).toHaveCount(2)
  const time = film.getByRole('slider', { name: 'Time since the loads began' })
  const end = Number(await time.inputValue())
  expect(end).toBeGreaterThan(300)
  // At its end both are whole, and before anything was painted both are empty.
  const last = await seen.evaluateAll((all) => all.map((one) => one.getAttribute('src')))
  await time.focus()
  await page.keyboard.press('ArrowLeft')
  expect(Number(await time.inputValue())).toBeLessThan(end)
  await time.fill('0')
  await expect(film.locator('output')).toHaveText(/^0\sms$/)
  expect(await seen.evaluateAll((all) => all.map((one) => one.getAttribute('src')))).not.toEqual(last)
  await film.getByRole('combobox', { name: 'Speed' }).selectOption('1')
  await film.getByRole('button', { name: 'Play' }).click()
  await expect(film.getByRole('button', { name: 'Hold' })).toBeVisible()
  await expect(film.getByRole('button', { name: 'Play' })).toBeVisible()
  await expect(time).toHaveValue(String(end))
  expect(await seen.evaluateAll((all) => all.map((one) => one.getAttribute('src')))).toEqual(last)
  // What does not load any more has a bar before and none after.
  const lanes = film.getByRole('table', { name: /^What came for whom/ })
  await expect(
    lanes
      .getByRole('row', { name: /^Pass It On/ })
      .getByRole('cell')
      .last(),
  ).toHaveText('–')
  await noFinding(page, '[aria-label="Both loads on one clock"]')
})

test('figures that are older than the change say so, and just that page is read again', async ({ page }) => {
  await page.goto('/sites/1/standing')
  const mark = page.getByRole('button', { name: /pages? changed since$/ })
  await mark.click()
  const told = page.getByRole('dialog', { name: 'What changed since these figures were read' })
  const cause = told.getByRole('listitem').filter({ hasText: CHANGE })
  await expect(cause).toContainText('1 page')
  await noFinding(page, '[aria-label="What changed since these figures were read"]')
  await page.keyboard.press('Escape')

  await place(page, 'Pages').click()
  await page
    .getByRole('link', { name: /^About the arboretum/ })
    .first()
    .click()
  const line = page.getByRole('main').getByRole('status').filter({ hasText: 'Since this was read' })
  await expect(line).toContainText(CHANGE)
  await line.getByRole('button', { name: 'Read it again' }).click()
  await expect(page.getByRole('group', { name: 'Sweep under way' })).toBeVisible()
  await expect(line).toHaveCount(0, { timeout: 300_000 })
  // All the others are there as they were.
  await page.getByRole('button', { name: 'Sweep and lens shown' }).click()
  await expect(page.getByRole('menuitemradio').first()).toHaveText(/66 pages, 3 repeats, 65 of them from sweep \d+/)
  await page.keyboard.press('Escape')
  await place(page, 'Standing').click()
  await expect(page.getByRole('main')).toContainText(/The middle page of 66 makes/)

  await place(page, 'Rules').click()
  await takeBack(page)
})
