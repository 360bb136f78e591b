import { expect, test, type Page } from '@playwright/test'
import { plainSite, type PlainSite } from '../testing/plain-site.js'

/** A site that tells nothing of itself and never looks the same twice: what would break is seen, and nothing else is. */
test.describe.configure({ mode: 'serial', timeout: 480_000 })

/** Of guards without any rules; all ten by `npm run long`. */
const ROUNDS = [
  [4, ''],
  [10, ' @long'],
] as const
let plain: PlainSite
let site: string
test.beforeAll(async () => void (plain = await plainSite({ restless: true })))
test.afterAll(async () => await plain.stop())

const tray = (page: Page) => page.getByRole('region', { name: 'Draft tray' })
const guards = (page: Page) => page.getByRole('table', { name: 'Guards' })
const times = (path: string) => plain.asked.filter((asked) => asked === path).length

/** Leaves out what a row of the ledger is about. */
async function leaveOut(page: Page, name: string): Promise<void> {
  await page.goto(`${site}/ledger`)
  await page.getByRole('rowheader', { name }).click()
  await page.getByRole('complementary', { name: 'Particulars' }).getByRole('button', { name: 'Leave out here' }).click()
}

/** Rehearses the drafts, and opens what came of it. */
async function rehearse(page: Page, outcome: RegExp): Promise<void> {
  await tray(page).getByRole('button', { name: 'Rehearse' }).click()
  const link = tray(page).getByRole('link', { name: outcome })
  await expect(link).toBeVisible({ timeout: 300_000 })
  await link.click()
  await expect(page.getByRole('heading', { name: /^Rehearsal: / })).toBeVisible()
}
const found = (page: Page) => page.getByRole('list', { name: 'What guards found' })
async function throwAway(page: Page): Promise<void> {
  await tray(page).getByRole('button', { name: 'Throw away' }).click()
  await expect(tray(page)).toHaveCount(0)
}

test('it is registered and swept', async ({ page }) => {
  await page.goto('/sites/new')
  await page.getByRole('textbox', { name: 'Address' }).fill(plain.address)
  await page.getByLabel('The site is local').check()
  await page.getByLabel('The site has no connector').check()
  await page.getByRole('button', { name: 'Register the site' }).click()
  await expect(page.getByText(/1 page was found by following its links/)).toBeVisible()
  site = new URL(page.url()).pathname.match(/\/sites\/\d+/)![0]
  await page.getByRole('link', { name: 'Ledger' }).click()
  await page.getByRole('main').getByRole('button', { name: 'Sweep 1 page' }).click()
  await expect(page.getByRole('gridcell', { name: /^\/parts\/willow-menu\/ on Home/ })).toBeVisible({
    timeout: 300_000,
  })
})

for (const [rounds, when] of ROUNDS)
  test(`without any rules, its guards do not cry wolf in ${rounds} rounds${when}`, async ({ page }) => {
    await page.goto(`${site}/rules`)
    await page.getByRole('button', { name: 'Play the guards on the live site' }).click()
    for (let round = 1; ; round++) {
      await expect(page.getByRole('main')).toContainText(/All guards hold|guards? fails?/, { timeout: 300_000 })
      await expect(guards(page).getByRole('row')).toHaveCount(1 + 2)
      await expect(guards(page).getByRole('img', { name: 'fails' })).toHaveCount(0)
      // From the second one on there is something to hold the looks against.
      const looks = guards(page).getByRole('img', { name: 'holds' })
      await expect.poll(() => looks.count()).toBeGreaterThanOrEqual(round === 1 ? 4 : 10)
      if (round === rounds) break
      const last = page.url()
      await page.getByRole('button', { name: 'Play them again' }).click()
      await expect(page).not.toHaveURL(last)
    }
  })

test('what opens the menu is missed on a handset, and not at a desk', async ({ page }) => {
  await leaveOut(page, '/parts/willow-menu/')
  await rehearse(page, /^Rehearsed: .*fails?/)
  const fails = (device: string) =>
    guards(page)
      .getByRole('row', { name: new RegExp(`/ ${device}`) })
      .getByRole('img', { name: 'fails' })
  await expect(fails('Handset')).not.toHaveCount(0)
  await expect(fails('Desk')).toHaveCount(0)
  await expect(found(page)).toContainText('open the menu')
  await throwAway(page)
})

test('a library that others need is missed by what they say in the console', async ({ page }) => {
  await leaveOut(page, '/parts/common-tools/')
  await rehearse(page, /^Rehearsed: .*fails?/)
  await expect(found(page)).toContainText('commonTools is not defined')
  await throwAway(page)
})

test('what a tag container inserts is asked for by nobody under the drafts, in rehearsal and preview', async ({
  page,
}) => {
  // Only this one of what it brings in goes.
  await page.goto(`${site}/add-ons`)
  await page.getByRole('link', { name: '/parts/tag-creel/' }).click()
  await page.getByRole('link', { name: 'A rule about stranger.localhost/trail.js' }).click()
  const form = page.getByRole('form', { name: 'Rule' })
  await expect(form.getByRole('combobox', { name: 'Of it' })).toHaveValue(
    /^file http:\/\/stranger\.localhost:\d+\/trail\.js$/,
  )
  await form.getByRole('combobox', { name: 'Is', exact: true }).selectOption({ label: 'files left out' })
  await expect(form.getByRole('status')).toContainText('Holds on 1 page')
  await form.getByRole('button', { name: 'Draft it' }).click()
  await expect(page.getByRole('table', { name: 'Rules' })).toContainText('trail.js')
  await expect(page.getByRole('region', { name: 'Findings' })).toHaveCount(0)
  plain.asked.length = 0
  await rehearse(page, /^Rehearsed: all guards hold/)
  // Thrice at least under two lenses, of which once with the drafts; and then nobody asks for it.
  expect(times('/parts/tag-creel/creel.js')).toBeGreaterThanOrEqual(2 * 3)
  expect(times('/parts/tag-creel/creel.js') - times('/trail.js')).toBeGreaterThanOrEqual(2)
  expect(times('/trail.js')).toBeGreaterThanOrEqual(2 * 2)

  plain.asked.length = 0
  await page.setViewportSize({ width: 1600, height: 900 })
  await page.goto(`${site}/preview?path=/`)
  const shown = page.frameLocator('iframe[title="The page as it would be"]')
  await expect(shown.getByText('Depth and width')).toBeVisible()
  expect(times('/parts/tag-creel/creel.js')).toBe(1)
  expect(times('/trail.js')).toBe(0)
  await page.getByRole('switch', { name: /^Try the draft on/ }).click()
  await expect.poll(() => times('/trail.js')).toBe(1)
  await page.getByRole('link', { name: /^Back to/ }).click()
  await throwAway(page)
})
