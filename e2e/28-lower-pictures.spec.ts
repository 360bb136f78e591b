import { expect, test } from '@playwright/test'
import { askedOf, logLength } from './access-log.js'
import { asNew, putLiveUnrehearsed, takeBack } from './places.js'

/** Pictures further down a page wait until they are near, and the site's access log says so. */
test.use({ baseURL: process.env.UNVELT_PAST_URL! })
test.describe.configure({ timeout: 480_000 })
test.beforeEach(({ request }) => asNew(request))
test.afterEach(({ request }) => asNew(request))

const LOG = process.env.STANDIN_PAST_LOG!
const VISITOR = 'A visitor of the arboretum'
const PATH = '/articles/the-lime-that-leans'

test('the lower pictures of a page are held by a press, and come only once somebody goes there', async ({
  page,
  browser,
}) => {
  await page.goto('/')
  await page.getByRole('link', { name: 'Pages', exact: true }).click()
  await page.getByRole('link', { name: /^The lime that leans/ }).click()
  await page.getByRole('tab', { name: 'Pictures' }).click()
  await page.getByRole('button', { name: /^Weigh its pictures/ }).click()
  const lower = page.getByText(/^\d+ pictures further down come at once/)
  await expect(lower).toBeVisible({ timeout: 300_000 })
  const count = Number(/^\d+/.exec((await lower.textContent())!)![0])
  expect(count).toBeGreaterThan(20)

  const faces = (since: number) =>
    askedOf('manyfaces.localhost', since, LOG).filter(({ agent }) => agent === VISITOR).length
  /** How many of them a visitor who comes for the first time has asked for at the top of the page, and at its end. */
  const look = async () => {
    const since = logLength(LOG)
    const visitor = await browser.newPage({
      baseURL: process.env.STANDIN_PAST_URL!,
      userAgent: VISITOR,
      viewport: { width: 1280, height: 800 },
    })
    await visitor.goto(PATH, { waitUntil: 'networkidle' })
    const atTop = faces(since)
    for (let y = 0; y < (await visitor.evaluate(() => document.body.scrollHeight)); y += 700) {
      await visitor.mouse.wheel(0, 700)
      await visitor.waitForLoadState('networkidle')
    }
    await expect.poll(() => faces(since)).toBeGreaterThanOrEqual(count)
    await visitor.close()
    return atTop
  }
  const before = await look()
  expect(before).toBeGreaterThanOrEqual(count)

  await page.getByRole('button', { name: 'Hold them until near' }).click()
  const tray = page.getByRole('region', { name: 'Draft tray' })
  await expect(tray).toContainText(`${count} drafts`)
  await expect(tray).toContainText(`${count} requests`)
  await expect(tray).toContainText('only later')
  await tray.getByLabel('Pages to read before and after').selectOption('none')
  await putLiveUnrehearsed(page)
  await expect(tray).toHaveCount(0, { timeout: 300_000 })
  // Browsers begin somewhat before a picture is in sight, and what the add-on's own code puts in later comes as it did.
  expect(await look()).toBeLessThan(before - 20)

  await page.getByRole('navigation', { name: 'Places' }).getByRole('link', { name: 'Rules' }).click()
  await takeBack(page)
})
