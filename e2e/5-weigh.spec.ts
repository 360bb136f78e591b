import { AxeBuilder } from '@axe-core/playwright'
import { expect, test, type Page } from '@playwright/test'
import { asNew } from './places.js'

/** The inventory and the ledger over the demo's recorded past: what a maintainer does in the first hour. */
test.use({ baseURL: process.env.UNVELT_PAST_URL! })
test.beforeEach(({ request }) => asNew(request))

const firstRow = (page: Page) => page.getByRole('rowheader').locator('[data-name="0"]')
const place = (page: Page, name: string) => page.getByRole('navigation', { name: 'Places' }).getByRole('link', { name })

test('the add-on that is heaviest by idle bytes, weighted by visits, is found', async ({ page }) => {
  await page.goto('/')
  await expect(page.getByRole('heading', { name: 'Next moves' })).toBeVisible()
  await place(page, 'Ledger').click()
  await page.getByRole('radio', { name: 'Idle' }).click()
  await page.getByLabel('Figures').selectOption('weighted by visits')
  await expect(page.getByRole('grid', { name: 'Ledger, Idle' })).toBeVisible()
  await expect(firstRow(page)).toHaveText('Pass It On')

  // What the site itself weighs is what the visits and the tolls of its pages come to.
  const site = /sites\/(\d+)/.exec(page.url())![1]!
  const api = async <T>(path: string) => (await (await page.request.get(`/api/sites/${site}${path}`)).json()) as T
  const pages = await api<{ id: number; views: number | null; signedIn: boolean }[]>('/pages')
  const views = pages.filter(({ signedIn }) => !signedIn).reduce((sum, page) => sum + (page.views ?? 0), 0)
  const details = await api<{ files: { pageIds: number[]; values: { idleBytes: number[] } }[] }>(
    `/ledger/details?payer=pass-it-on&sweep=${(await api<{ sweep: { id: number } }>('/standing')).sweep.id}`,
  )
  const weighed = details.files
    .flatMap(({ pageIds, values }) => pageIds.map((id, n) => [id, values.idleBytes[n]!] as const))
    .reduce((sum, [id, bytes]) => sum + (bytes * (pages.find((each) => each.id === id)!.views ?? 0) * 1000) / views, 0)
  const margin = page
    .getByRole('row')
    .filter({ has: firstRow(page) })
    .locator('data')
  const shown = Number(await margin.first().getAttribute('value'))
  // Files are listed of one repeat, margins are medians of three.
  expect(Math.abs(shown / weighed - 1)).toBeLessThan(0.02)
})

test('every page that uses the booking add-on is found', async ({ page }) => {
  await page.goto('/')
  await expect(page.getByRole('heading', { name: 'Next moves' })).toBeVisible()
  await page.keyboard.press('Control+k')
  await page.keyboard.type('booking')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: 'Ticket Desk', level: 1 })).toBeVisible()
  const use = page.getByRole('region', { name: 'Use' })
  await expect(use.getByRole('button', { name: /^In use/ })).toContainText('1 page')
  await use.getByRole('link', { name: 'Book tickets' }).click()
  await expect(page.getByRole('heading', { name: 'Book tickets', level: 1 })).toBeVisible()
})

test('a view is sent by its address, with its selection, and shows the same to somebody else', async ({
  page,
  browser,
}) => {
  await page.goto('/')
  await place(page, 'Ledger').click()
  await page.getByRole('radio', { name: 'Requests' }).click()
  await page.getByLabel('Filter add-ons by text').fill('share buttons')
  await page.getByRole('button', { name: 'Fold page', exact: true }).click()
  await page.getByLabel('Rows').selectOption('by job')
  // Rows stay the same elements where others move into them, so the click waits for them to have moved.
  await expect(page.getByRole('rowheader', { name: 'share buttons (2)' })).toBeVisible()
  await page.getByRole('gridcell', { name: /^Ribbon Share on every page/ }).click()
  const heading = page.getByRole('heading', { name: 'Ribbon Share on every page' })
  await expect(heading).toBeVisible()
  await expect(page).toHaveURL(/sel=/)

  const other = await browser.newPage({ baseURL: process.env.UNVELT_PAST_URL! })
  await other.goto(page.url())
  await expect(other.getByRole('heading', { name: 'Ribbon Share on every page' })).toBeVisible()
  const rows = (of: Page) => of.getByRole('grid').getByRole('rowheader').allTextContents()
  expect(await rows(other)).toEqual(await rows(page))
  expect(await rows(other)).toEqual(['share buttons (2)', 'Pass It On', 'Ribbon Share', 'Page'])
  await other.close()
})

test('the ledger holds while its rows change faster than a slow machine paints them', async ({ page }) => {
  await page.goto('/')
  await place(page, 'Ledger').click()
  await expect(page.getByRole('grid')).toBeVisible()
  const session = await page.context().newCDPSession(page)
  await session.send('Emulation.setCPUThrottlingRate', { rate: 4 })
  const filter = page.getByLabel('Filter add-ons by text')
  const frame = () => page.evaluate(() => new Promise((resolve) => requestAnimationFrame(resolve)))
  for (const text of ['share buttons', '', 'slider', 'e', 'share', '', 'Code', 'menu', 'o', '']) {
    await filter.fill(text)
    // So that tiles are on their way when the next rows come.
    for (let n = 0; n < 3; n++) await frame()
  }
  await expect(page.getByRole('rowheader', { name: 'Pass It On' })).toBeVisible()
  await expect(page.getByText('This could not be shown')).toHaveCount(0)
})

test('two add-ons that do one job are found', async ({ page }) => {
  await page.goto('/')
  await place(page, 'Add-ons').click()
  await page
    .getByRole('navigation', { name: 'Lists' })
    .getByRole('link', { name: /^Same job/ })
    .click()
  const job = page.getByRole('region', { name: 'share buttons' })
  await expect(job.getByRole('link')).toHaveText(['Pass It On', 'Ribbon Share'])
})

test('a move is drafted by one press and taken back by another, and one is put aside with its reason', async ({
  page,
}) => {
  await page.goto('/')
  const moves = page.getByRole('region', { name: 'Next moves' })
  const move = moves.getByRole('listitem').filter({ hasText: 'Confine Grove Builder' })
  await move.getByRole('button', { name: 'Draft it' }).click()
  const tray = page.getByRole('region', { name: 'Draft tray' })
  await expect(tray).toContainText('2 drafts')
  await expect(tray).toContainText('requests')
  await expect(move.getByRole('button', { name: 'Drafted' })).toBeDisabled()
  await page.keyboard.press('Control+z')
  await expect(tray).toHaveCount(0)

  const aside = moves.getByRole('listitem').filter({ hasText: 'Hold Tagbasket' })
  await aside.getByRole('button', { name: /^Put aside/ }).click()
  await aside.getByLabel('Why it is put aside').fill('After the new design.')
  await page.keyboard.press('Enter')
  await expect(aside).toHaveCount(0)
  await moves.getByText('1 move put aside').click()
  await expect(moves).toContainText('After the new design.')
  await moves.getByRole('button', { name: 'Bring back' }).click()
  await expect(aside).toHaveCount(1)
})

test('what is selected is copied as a table, and an add-on is opened into what it loads', async ({ page, context }) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write'])
  await page.goto('/')
  await place(page, 'Ledger').click()
  await page.getByRole('gridcell', { name: /^Pass It On on Opening hours/ }).click()
  const grid = page.getByRole('grid')
  await grid.press('Shift+ArrowRight')
  await grid.press('Control+c')
  await expect(page.getByText('Copied 1 row of 2 columns')).toBeVisible()
  const [head, row] = (await page.evaluate(() => navigator.clipboard.readText())).split('\n')
  expect(head).toBe('Add-on\tOpening hours\tPlan a visit\tTotal on all pages')
  expect(row!.split('\t')[0]).toBe('Pass It On')

  await grid.press('Enter')
  await expect(page.getByRole('rowheader', { name: 'pass-it-on.js' })).toBeVisible()
  await grid.press('?')
  await expect(page.getByRole('dialog', { name: 'Keys of the ledger' })).toContainText('leave out here')
})

test('no place has any finding of accessibility, light or dark', async ({ page }) => {
  await page.goto('/')
  await expect(page.getByRole('heading', { name: 'Next moves' })).toBeVisible()
  const site = /sites\/\d+/.exec(page.url())![0]
  const places: [path: string, ready: string][] = [
    ['standing', 'h2:text-is("Next moves")'],
    ['ledger?open=grove-builder&rows=kind', '[role=gridcell][data-row]'],
    ['add-ons', 'table[aria-label="Add-ons"]'],
    ['add-ons?view=undecided', '[role=listbox]'],
    ['add-ons?view=jobs', 'section[aria-label="share buttons"]'],
    ['add-ons/ticket-desk', 'h1:text-is("Ticket Desk")'],
    ['retirements', 'table[aria-label="Candidates"]'],
    ['weigh-ins', 'ul[aria-label="Weigh-ins"]'],
    ['weigh-ins/1', 'section[aria-label="Side by side"]'],
    ['weigh-ins/new?addon=pass-it-on', 'ol[aria-label="Variants"]'],
    ['ledger?far=yes', 'canvas'],
    ['pages', 'main table'],
    ['pages/32', 'section[aria-label="Whom one waits for"]'],
    ['pages/32?view=console', 'ul[aria-label="Complaints"]'],
    ['outside', 'main table'],
    ['rules', 'h1:text-is("Rules")'],
    ['proof', 'h1:text-is("Proof")'],
    ['proof/two-sweeps', 'table[aria-label="The mean page"]'],
    // What comes last on it, so that all of it is there.
    ['settings', 'table[aria-label="Stored sweeps"]'],
  ]
  for (const [path, ready] of places) {
    await page.goto(`/${site}/${path}`)
    await page.locator(ready).first().waitFor()
    // The looks share their layout; the ledger and a page have every colour of both.
    for (const look of path.startsWith('ledger') || path.startsWith('pages') ? ['Dark', 'Light'] : ['Light']) {
      const press = page.getByRole('button', { name: look, exact: true })
      if (await press.isVisible()) await press.click()
      const { violations } = await new AxeBuilder({ page }).analyze()
      expect(violations.map(({ id, nodes }) => `${path}, ${look}: ${id} ${nodes[0]!.html.slice(0, 200)}`)).toEqual([])
    }
  }
})

test('all undecided are decided from the keyboard, and the last one is taken back', async ({ page }) => {
  test.setTimeout(180_000)
  await page.goto('/')
  await page
    .getByRole('link', { name: /^\d+ add-ons$/ })
    .last()
    .click()
  const list = page.getByRole('listbox', { name: 'Undecided add-ons' })
  await expect(list).toBeFocused()
  const count = await list.getByRole('option').count()
  expect(count).toBeGreaterThan(30)
  await page.getByLabel('Who decides').fill('Wren Alder')
  await list.focus()
  for (let left = count; left > 0; left--) {
    await page.keyboard.press('ktc'[left % 3]!)
    await expect(page.getByLabel('Why')).toBeFocused()
    if (left === count) await page.keyboard.type('Looked at in autumn')
    await page.keyboard.press('Enter')
    await expect(list.getByRole('option')).toHaveCount(left - 1)
  }
  await expect(page.getByRole('heading', { name: 'Everything has been decided' })).toBeVisible()
  await page.keyboard.press('Control+z')
  await expect(list.getByRole('option')).toHaveCount(1)
  await page.getByRole('navigation', { name: 'Lists' }).getByRole('link', { name: /^All/ }).click()
  await page.getByLabel('Filter add-ons').fill('retire')
  await expect(page.getByRole('table', { name: 'Add-ons' }).getByRole('row')).not.toHaveCount(1)
})

test('the pages of a sweep are chosen by sitemap, by hand or by sample, and what that covers is told', async ({
  page,
}) => {
  await page.goto('/')
  await page.getByRole('button', { name: 'Set up a sweep' }).click()
  const setup = page.getByRole('dialog')
  const told = setup.getByRole('status')
  await expect(told).toHaveText(/^66 pages: 264 readings, about \d+\smin at the pace of the last sweep\.$/)

  await setup.getByRole('radio', { name: 'By sitemap' }).click()
  await expect(setup).toContainText(/The sitemap lists \d+ addresses; \d+ of them are among the site’s 66 pages/)
  await expect(setup).toContainText('/events/spring-fair')
  await expect(told).toHaveText(
    /^6\d pages of 66, with 9\d\s% of the known page views: 2\d\d readings, about \d+\smin at the pace of the last sweep\.$/,
  )

  await setup.getByRole('radio', { name: 'By hand' }).click()
  await expect(told).toHaveText('No page is chosen yet.')
  await expect(setup.getByRole('button', { name: 'Start the sweep' })).toBeDisabled()
  await setup.getByLabel('Narrow the pages').fill('owl article')
  await setup.getByRole('group', { name: 'Pages to read' }).getByRole('checkbox').first().check()
  await expect(told).toHaveText(
    /^1 page of 66, with [\d.]+\s% of the known page views: 4 readings, about a minute at the pace of the last sweep\.$/,
  )
  await setup.getByLabel('Narrow the pages').fill('/office')
  await setup.getByRole('button', { name: /^Tick \d+ pages$/ }).click()
  await expect(told).toContainText('can’t be seen through the lens')

  await setup.getByRole('radio', { name: 'A sample' }).click()
  await setup.getByRole('spinbutton', { name: /Read each page/ }).fill('1')
  await expect(told).toHaveText(
    /^\d+ pages of 66, with \d+\s% of the known page views: \d+ readings, about .+ at the pace of the last sweep\.$/,
  )
})
