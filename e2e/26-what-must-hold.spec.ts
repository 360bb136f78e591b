import { expect, test, type Page } from '@playwright/test'
import { askSite } from '../testing/ask-site.js'
import { askedOf, logLength } from './access-log.js'
import { asNew, openAddOn, takeBack } from './places.js'

/** What drafts would break is seen before they are live, and nobody but the measuring browser sees them. */
test.use({ baseURL: process.env.UNVELT_PAST_URL! })
test.describe.configure({ mode: 'serial', timeout: 480_000 })
test.beforeEach(({ request }) => asNew(request))
test.afterEach(({ request }) => asNew(request))

const LOG = process.env.STANDIN_PAST_LOG!
const VISITOR = 'A visitor of the arboretum'
const tray = (page: Page) => page.getByRole('region', { name: 'Draft tray' })
const found = (page: Page) => page.getByRole('list', { name: 'What guards found' })
const asked = (host: string, since: number) => askedOf(host, since, LOG).filter(({ path }) => path.includes('.js'))
const visit = async (path: string) =>
  (await askSite(process.env.STANDIN_PAST_URL!, path, { headers: { 'user-agent': VISITOR } })).text

/** Writes a rule about one file of an add-on, from its sheet. */
async function leaveOutFile(page: Page, addOn: string, file: string, paths: string): Promise<void> {
  await openAddOn(page, addOn)
  await page.getByRole('link', { name: `A rule about ${file}` }).click()
  const form = page.getByRole('form', { name: 'Rule' })
  await form.getByRole('combobox', { name: 'Is', exact: true }).selectOption({ label: 'files left out' })
  await form.getByRole('combobox', { name: 'Where', exact: true }).selectOption({ label: 'these pages' })
  await form.getByRole('textbox', { name: 'Pages, a path on each line' }).fill(paths)
  await form.getByRole('button', { name: 'Draft it' }).click()
  await expect(form).toHaveCount(0)
  await expect(tray(page)).toContainText('1 draft')
}

/**
 * Rehearses the drafts while a visitor goes on looking at a page, and opens what came of it.
 * @param sees What the page that the visitor gets has to be like all the while.
 */
async function rehearse(page: Page, outcome: RegExp, path: string, sees: (html: string) => void): Promise<void> {
  await tray(page).getByRole('button', { name: 'Rehearse' }).click()
  const link = tray(page).getByRole('link', { name: /^Rehearsed:/ })
  await expect
    .poll(
      async () => {
        sees(await visit(path))
        return link.isVisible()
      },
      { timeout: 300_000 },
    )
    .toBe(true)
  await expect(link).toHaveText(outcome)
  await link.click()
  await expect(page.getByRole('heading', { name: /^Rehearsal: / })).toBeVisible()
}
async function throwAway(page: Page): Promise<void> {
  await tray(page).getByRole('button', { name: 'Throw away' }).click()
  await expect(tray(page)).toHaveCount(0)
}

test('what opens the menu is missed on a handset, though all is well at a desk', async ({ page }) => {
  await leaveOutFile(page, 'Hollow', '/themes/hollow/hollow.js', '/about')
  await rehearse(page, /fails?/, '/about', (html) => expect(html).toContain('src="/themes/hollow/hollow.js'))
  const fails = (device: string) =>
    page
      .getByRole('table', { name: 'Guards' })
      .getByRole('row', { name: new RegExp(`/about ${device}`) })
      .getByRole('img', { name: 'fails' })
  await expect(fails('Handset')).not.toHaveCount(0)
  await expect(fails('Desk')).toHaveCount(0)
  await expect(found(page)).toContainText('open the menu')
  await throwAway(page)
})

test('a library that others need is missed by what they say in the console', async ({ page }) => {
  await leaveOutFile(page, 'Rootlib', '/add-ons/rootlib/rootlib.js', '/')
  await rehearse(page, /fails?/, '/', (html) => expect(html).toContain('src="/add-ons/rootlib/rootlib.js'))
  await expect(found(page)).toContainText('rootlib is not defined')
  await throwAway(page)
})

test('one of the scripts that a tag container brings in is refused in rehearsal and live, and elsewhere it stays', async ({
  page,
  browser,
}) => {
  const trail = 'warmtrail.localhost'
  // Steps lead on to pages on which nothing was changed, where it is asked for as ever.
  expect((await page.request.put('/api/sites/1/steps', { data: { steps: [] } })).ok()).toBe(true)
  let since = logLength(LOG)
  await leaveOutFile(page, 'Tagbasket', `${trail}/trail.js`, '/about')
  // The stopper would name it.
  await rehearse(page, /all guards hold/, '/about', (html) => expect(html).not.toContain(trail))
  // Under two lenses thrice each at least, of which once with the drafts; and thrice on a page that they don't touch.
  const [brought, came] = [asked('tagbasket.localhost', since), asked(trail, since)]
  expect(brought.length).toBeGreaterThanOrEqual(2 * 3 + 3)
  expect(brought.length - came.length).toBeGreaterThanOrEqual(2)

  await tray(page).getByLabel('Pages to read before and after').selectOption('none')
  await tray(page).getByRole('button', { name: 'Put live' }).click()
  await expect(tray(page)).toHaveCount(0, { timeout: 300_000 })
  // A visitor who comes for the first time, and so has nothing in the browser's cache.
  const look = async (path: string) => {
    const visitor = await browser.newPage({ baseURL: process.env.STANDIN_PAST_URL!, userAgent: VISITOR })
    since = logLength(LOG)
    await visitor.goto(path, { waitUntil: 'networkidle' })
    await expect.poll(() => asked('hallodesk.localhost', since).length).toBeGreaterThan(0)
    await visitor.close()
    return asked(trail, since).filter(({ agent }) => agent === VISITOR).length
  }
  expect(await look('/about')).toBe(0)
  expect(await look('/contact')).toBeGreaterThan(0)

  await page.getByRole('navigation', { name: 'Places' }).getByRole('link', { name: 'Rules' }).click()
  await takeBack(page)
  await expect(page.getByRole('region', { name: 'All rules' }).getByText('Tagbasket')).toHaveCount(0)
  await expect.poll(() => look('/about')).toBeGreaterThan(0)
})
