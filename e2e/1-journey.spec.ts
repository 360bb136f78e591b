import { expect, test, type Page, type Route } from '@playwright/test'
import { forgetSites, openLedger, putLiveUnrehearsed } from './places.js'
import { loadsOf, logLength, median } from './access-log.js'

const STANDIN = process.env.STANDIN_URL!
const KEY = process.env.STANDIN_KEY!
const PATHS = [
  '/',
  '/opening-hours',
  '/plan-a-visit',
  '/about',
  '/contact',
  '/events/lantern-evening',
  '/events/seed-swap',
  '/events/dawn-chorus',
]
const TITLES = [
  'Fernhollow Arboretum',
  'Opening hours',
  'Plan a visit',
  'About the arboretum',
  'Contact',
  'Lantern evening',
  'Seed swap',
  'Dawn chorus walk',
]

test.describe.configure({ mode: 'serial' })
// The first thing here is that there is no site yet; whoever tries once more begins there.
test.beforeAll(async ({ request }) => {
  if (test.info().retry > 0) await forgetSites(request)
})

test('an address that can’t be looked after is refused with a sentence, in the form', async ({ page }) => {
  await page.goto('/')
  await expect(page.getByRole('heading', { name: 'Which site do you look after?' })).toBeVisible()
  const address = page.getByRole('textbox', { name: 'Address' })
  const send = page.getByRole('button', { name: 'Register the site' })
  const cases: [string, RegExp][] = [
    ['', /enter the address/],
    ['ftp://files.example', /Only http and https/],
    ['http://nowhere.invalid', /does not resolve/],
    [STANDIN, /closed unless the site is marked as local/],
    ['http://10.1.2.3', /private network/],
  ]
  for (const [typed, sentence] of cases) {
    await address.fill(typed)
    await send.click()
    await expect(page.getByRole('alert')).toHaveText(sentence)
  }
  await page.getByLabel('The site is local').check()
  await address.fill(STANDIN.replace('fernhollow', 'letterloft'))
  await send.click()
  await expect(page.getByRole('alert')).toHaveText(/has no connector/)
  await address.fill(STANDIN)
  await page.getByLabel('Connector key').fill('wrong')
  await send.click()
  await expect(page.getByRole('alert')).toHaveText('The connector does not accept this key.')
  await page.goto('/')
  await expect(page.getByRole('heading', { name: 'Which site do you look after?' })).toBeVisible()
})

test('a site is registered and swept, and the ledger agrees with the site’s own access log', async ({ page }) => {
  await page.goto('/')
  await page.getByRole('textbox', { name: 'Address' }).fill(STANDIN)
  await page.getByLabel('Connector key').fill(KEY)
  await page.getByLabel('The site is local').check()
  await page.getByRole('button', { name: 'Register the site' }).click()
  await expect(page.getByRole('heading', { name: 'Nothing has been weighed yet' })).toBeVisible()

  const since = logLength()
  await page.getByRole('main').getByRole('button', { name: 'Sweep 8 pages' }).click()
  await expect(page.getByTestId('at-page')).toHaveText(/^Reading \//)
  await expect(page.getByRole('progressbar')).toBeVisible()
  await sweepEnds(page)

  await page.goto(page.url() + '?measure=requests')
  await expect(page.getByRole('grid')).toBeVisible()
  const requests = await margins(page)
  await page.getByRole('radio', { name: 'Transfer' }).click()
  const bytes = await margins(page)
  for (const [index, path] of PATHS.entries()) {
    const loads = loadsOf(path, PATHS, since)
    expect(loads).toHaveLength(4)
    expect(requests[index], `requests of ${path}`).toBe(median(loads.map((load) => load.requests)))
    // The site's times stand in the document's head, a digit more or less each time. The load that goes on with steps is the largest
    // by the log, and anywhere among the others by its reading; so the lower middle is one of the two smallest, or between them.
    const clean = loads.map((load) => load.bytes).sort((a, b) => a - b)
    expect(clean[2]! - clean[0]!, `what loads of ${path} differ by`).toBeLessThan(64)
    expect(bytes[index], `bytes of ${path}`).toBeGreaterThanOrEqual(clean[0]!)
    expect(bytes[index], `bytes of ${path}`).toBeLessThanOrEqual(clean[1]!)
  }
  expect(bytes.at(-1)).toBe(bytes.slice(0, -1).reduce((a, b) => a + b, 0))
  expect(await page.getByRole('rowheader', { name: 'Unassigned' }).count()).toBe(0)
})

test('an add-on is left out on one page, put live, and the page is measured lighter', async ({ page }) => {
  await openLedger(page)
  const cell = page.getByRole('gridcell', { name: /^Canopy Slider on Seed swap/ })
  await cell.click()
  const particulars = page.getByRole('complementary', { name: 'Particulars' })
  await expect(particulars.getByRole('heading', { name: 'Canopy Slider on Seed swap' })).toBeVisible()
  await expect(particulars.getByRole('row', { name: /^Requests 3 .* −3$/ })).toBeVisible()
  await particulars.getByRole('button', { name: 'Leave out here' }).click()

  const tray = page.getByRole('region', { name: 'Draft tray' })
  await expect(tray).toContainText('1 draft')
  await expect(tray).toContainText('−3 requests')
  // Guards that are played once it is live would load pages, too, and the log counts those of the proof.
  const [{ id }] = (await (await page.request.get('/api/sites')).json()) as [{ id: number }]
  expect((await page.request.patch(`/api/sites/${id}`, { data: { net: 'off' } })).ok()).toBe(true)
  const since = logLength()
  await putLiveUnrehearsed(page)

  await page.getByRole('button', { name: 'Before and after' }).click()
  await expect(page.getByRole('heading', { name: 'Canopy Slider not run on /events/seed-swap' })).toBeVisible()
  await sweepEnds(page)
  await expect(page.getByText('10 readings, before and after in turn')).toBeVisible()
  const loads = loadsOf('/events/seed-swap', PATHS, since)
  expect(loads).toHaveLength(10)
  const before = loads.filter((_, index) => index % 2 === 0)
  const after = loads.filter((_, index) => index % 2 === 1)
  const shown = async (measure: string) => {
    const figures = await page
      .getByRole('row', { name: new RegExp(`^${measure} `) })
      .locator('data')
      .all()
    return Promise.all(figures.map(async (figure) => Number(await figure.getAttribute('value'))))
  }
  expect(await shown('Requests')).toEqual([median(before.map((l) => l.requests)), median(after.map((l) => l.requests))])
  expect(await shown('Transfer')).toEqual([median(before.map((l) => l.bytes)), median(after.map((l) => l.bytes))])
  const [requestsBefore, requestsAfter] = await shown('Requests')
  expect(requestsBefore! - requestsAfter!).toBe(3)
  await expect(page.getByRole('row', { name: /^Requests / })).toContainText('better')
  // What was promised stands beside what was measured.
  await expect(page.getByRole('columnheader', { name: 'predicted' })).toBeVisible()
  const cells = page.getByRole('row', { name: /^Requests / }).getByRole('cell')
  await expect(cells.nth(2)).toHaveText('−3 requests')
  await expect(cells.nth(3)).toHaveText('−3 requests')
  for (const more of ['Idle', 'Main thread', 'First byte', 'Largest paint', 'Layout shift', 'Blocking time'])
    await expect(page.getByRole('row', { name: new RegExp(`^${more} `) })).toBeVisible()

  expect(await visitorSees(page, '/events/seed-swap')).not.toContain('canopy-slider')
  expect(await visitorSees(page, '/events/dawn-chorus')).toContain('canopy-slider')
  await page.getByRole('link', { name: 'Ledger' }).click()
  await expect(page.getByRole('gridcell', { name: /^Canopy Slider on Seed swap.*live rule/ })).toBeVisible()
})

test('what was put live is taken back', async ({ page }) => {
  await page.goto('/')
  await page.getByRole('link', { name: 'Proof' }).click()
  await page.getByRole('link', { name: /Canopy Slider not run/ }).click()
  await page.getByRole('button', { name: 'Take back' }).click()
  await page.getByRole('button', { name: 'Before and after' }).click()
  await expect(page.getByRole('heading', { name: 'All rules taken back' })).toBeVisible()
  expect(await visitorSees(page, '/events/seed-swap')).toContain('canopy-slider')
  await sweepEnds(page)
  await page.getByRole('link', { name: 'Rules' }).click()
  await expect(page.getByText('Version 2 is live with 0 rules.')).toBeVisible()
  await expect(page.getByText('No rule is live, and none is drafted.')).toBeVisible()
})

test('a rectangle is selected and drafted by keyboard, and thrown away again', async ({ page }) => {
  await openLedger(page)
  const grid = page.getByRole('grid')
  await grid.focus()
  for (const key of ['ArrowDown', 'ArrowDown', 'ArrowRight', 'Shift+ArrowRight', 'Shift+ArrowDown'])
    await grid.press(key)
  await expect(page.getByRole('gridcell', { selected: true })).toHaveCount(4)
  await expect(page.getByRole('heading', { name: '2 rows on 2 pages' })).toBeVisible()
  await grid.press('l')
  const tray = page.getByRole('region', { name: 'Draft tray' })
  await expect(tray).toContainText('2 drafts')
  await tray.getByRole('button', { name: 'Throw away' }).click()
  await expect(tray).toHaveCount(0)
})

test('a drag held below the matrix scrolls along and selects to the last row', async ({ page }) => {
  await openLedger(page)
  const grid = page.getByRole('grid')
  const rows = Number(await grid.getAttribute('aria-rowcount')) - 3
  const from = (await page.locator('[role=gridcell][data-row="1"][data-column="2"]').boundingBox())!
  const all = (await grid.boundingBox())!
  await page.mouse.move(from.x + 20, from.y + 10)
  await page.mouse.down()
  await page.mouse.move(from.x + 20, all.y + all.height + 60)
  const left = () => grid.evaluate((g) => Math.round(g.scrollHeight - g.clientHeight - g.scrollTop))
  await expect.poll(left).toBeLessThanOrEqual(1)
  await page.mouse.up()
  await expect(page.getByRole('heading', { name: `${rows - 1} rows on ` })).toBeVisible()
  // Let go of, the pointer moves nothing any more.
  await page.mouse.move(from.x + 20, all.y - 60)
  await expect(page.getByRole('gridcell', { selected: true }).last()).toBeInViewport()
  expect(await left()).toBeLessThanOrEqual(1)
  await grid.press('Escape')
})

test('a sweep is cancelled and what was read stays', async ({ page }) => {
  await openLedger(page)
  await page.getByRole('button', { name: 'Sweep 8 pages' }).click()
  await expect(page.getByTestId('at-page')).toHaveText(/^Reading \//)
  await page.getByRole('button', { name: 'Cancel' }).click()
  await expect(page.getByRole('button', { name: 'Sweep 8 pages' })).toBeVisible()
  await expect(page.getByRole('grid')).toBeVisible()
})

test('the palette goes to a page, whose lanes show every request', async ({ page }) => {
  await openLedger(page)
  await expect(page.getByRole('grid')).toBeVisible()
  // Who types faster than anything comes loses nothing: neither letters, nor what is taken back, nor what chooses.
  const [palette, pages] = [heldBack(), heldBack()]
  await page.route(/\/assets\/palette.*\.js$/, palette.route)
  await page.route(/\/api\/sites\/\d+\/pages$/, pages.route)
  await page.keyboard.press('Control+k')
  await page.keyboard.type('contavt')
  for (let i = 0; i < 2; i++) await page.keyboard.press('Backspace')
  palette.letCome()
  const field = page.getByRole('combobox', { name: 'Go to or do' })
  await expect(field).toBeFocused()
  await page.keyboard.type('ct')
  await expect(field).toHaveValue('contact')
  await page.keyboard.press('Enter')
  pages.letCome()
  await expect(page.getByRole('heading', { name: 'Contact', level: 1 })).toBeVisible()
  // What came from the browser's own cache has its line, and is told apart.
  const figures = page.locator('dt:text-is("Requests") + dd, dt:text-is("From its cache") + dd')
  const count = (await figures.allTextContents()).reduce((sum, text) => sum + Number(text), 0)
  await expect(page.getByRole('region', { name: 'Load over time' }).getByRole('listitem')).toHaveCount(count)
})

/** What is asked for, kept waiting. */
function heldBack() {
  let letCome!: () => void
  const comes = new Promise<void>((resolve) => (letCome = resolve))
  return { letCome, route: (route: Route) => comes.then(() => route.continue()) }
}

/** The exact figures of the bottom margin, page by page in the stand-in's own order, the site's total last. */
async function margins(page: Page): Promise<number[]> {
  const row = page.getByRole('row').filter({ has: page.getByRole('rowheader', { name: 'Page', exact: true }) })
  const heads = await page
    .getByRole('columnheader')
    .locator('button[title*=" · "]')
    .evaluateAll((buttons) => buttons.map((button) => (button as HTMLButtonElement).title.split(' · ')[0]!))
  const figures = await row.locator('data').evaluateAll((list) => list.map((d) => Number((d as HTMLDataElement).value)))
  // The margin of all pages stands at the left, before those of the pages.
  return [...TITLES.map((title) => figures[1 + heads.indexOf(title)]!), figures[0]!]
}

const sweepEnds = (page: Page) => expect(page.getByRole('progressbar')).toHaveCount(0, { timeout: 480_000 })

async function visitorSees(page: Page, path: string): Promise<string> {
  const visitor = await page.context().newPage()
  await visitor.goto(STANDIN + path)
  const html = await visitor.content()
  await visitor.close()
  return html
}
