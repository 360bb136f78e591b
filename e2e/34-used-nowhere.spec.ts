import { AxeBuilder } from '@axe-core/playwright'
import { expect, test, type APIRequestContext, type Page } from '@playwright/test'
import { strFromU8, unzipSync } from 'fflate'
import { readFileSync } from 'node:fs'
import { askedOf, logLength } from './access-log.js'
import { asNew, cancelSweeps, putLiveUnrehearsed, takeBack } from './places.js'

test.use({ baseURL: process.env.UNVELT_PAST_URL! })

const site = `${process.env.UNVELT_PAST_URL ?? 'http://127.0.0.1:4600'}/sites/1`

test('styles that no page uses are named, what may be needed is kept, and the cleaned files are saved', async ({
  page,
}) => {
  test.setTimeout(240_000)
  await page.goto(`${site}/pages?view=nowhere`)
  await page.getByRole('button', { name: /^Look (what is used nowhere|again)$/ }).click()
  const found = page.getByRole('region', { name: 'Used nowhere' })
  await expect(page.getByRole('button', { name: 'Look again' })).toBeVisible({ timeout: 300_000 })
  await expect(found).toContainText('Looked for on every page that loads the file')
  // The theme is heaviest: most of it is for layouts that nobody chose.
  const row = found.getByRole('row').filter({ hasText: 'hollow.css' }).first()
  await expect(row).toContainText(/\d+ rules?, [\d.]+\sK?B/)
  await row.getByRole('button').first().click()
  const rules = page.getByRole('dialog')
  await expect(rules.getByRole('table').first()).toContainText('Can go')
  await expect(rules.getByRole('table').nth(1)).toContainText('May be needed, and stays')
  await expect(rules).toContainText('for a state that comes and goes')
  const { violations } = await new AxeBuilder({ page }).analyze()
  expect(violations.map(({ id, nodes }) => `${id} ${nodes[0]!.html.slice(0, 200)}`)).toEqual([])
  const saved = page.waitForEvent('download')
  await rules.getByRole('button', { name: 'Save the cleaned file' }).click()
  const cleaned = readFileSync(await (await saved).path(), 'utf8')
  await rules.getByRole('button', { name: 'Close' }).click()
  const packed = page.waitForEvent('download')
  await found.getByRole('button', { name: /^Save \d+ cleaned files?$/ }).click()
  const files = unzipSync(readFileSync(await (await packed).path()))
  const name = Object.keys(files).find((path) => path.endsWith('hollow.css'))!
  expect(strFromU8(files[name]!)).toBe(cleaned)
  expect(strFromU8(files['left-out.csv']!)).toContain('left out')

  // Of scripts the functions that never ran are named, with what may call them yet; no script is cleaned.
  const scripts = page.getByRole('region', { name: 'Functions that never ran' })
  const slider = scripts.getByRole('row').filter({ hasText: 'canopy-slider.js' }).first()
  await slider
    .getByRole('button', { name: /^\d+ functions/ })
    .first()
    .click()
  await expect(rules.getByRole('table', { name: /^Never ran, and nothing names it/ })).toContainText('api.')
  await expect(rules.getByRole('table', { name: /^Never ran, and may be needed/ })).toContainText(
    'waits for something to be done',
  )
  await expect(rules.getByRole('button', { name: 'Save the cleaned file' })).toHaveCount(0)
  await rules.getByRole('button', { name: 'Close' }).click()
  const listed = page.waitForEvent('download')
  await scripts.getByRole('button', { name: 'Save the functions as a table' }).click()
  const table = readFileSync(await (await listed).path(), 'utf8')
  expect(table).toContain('script,whose,pages,line,function,bytes,may be needed')
  expect(table).toMatch(/canopy-slider\.js,Canopy Slider,\d+,\d+,api\.\w+,\d+,/)
})

interface LiveRules {
  version: number
  versions: { version: number; rules: { copy?: { content?: string } }[] }[]
}

/** What an attempt before has put live goes first. */
async function withoutCopies(request: APIRequestContext): Promise<void> {
  const rules = async () => (await (await request.get('/api/sites/1/rules')).json()) as LiveRules
  const { version, versions } = await rules()
  if (!versions[0]?.rules.some(({ copy }) => copy?.content)) return
  await request.post(`/api/sites/1/rules/take-back/${versions[1]?.version ?? 0}?live=${version}`)
  await expect.poll(async () => (await rules()).version, { timeout: 300_000 }).toBeGreaterThan(version)
  await cancelSweeps(request, '1')
}

const VISITOR = 'A visitor of the arboretum'

/** What the theme says of a page's links and of a field in error, at rest and pointed at. */
const looks = (visitor: Page) =>
  visitor.evaluate(() => {
    const of = (style: string) => [...document.styleSheets].filter(({ href }) => !href || href.startsWith(location.origin)).flatMap((sheet) => [...sheet.cssRules].map((rule) => rule.cssText)).filter((text) => text.includes(style)) // prettier-ignore
    return { hover: of(':hover'), error: of('error'), focus: of(':focus') }
  })

test('a kind of page gets the cleaned theme, in which every style of a state is as it was, until that is taken back', async ({
  page,
  browser,
}) => {
  test.setTimeout(480_000)
  const log = process.env.STANDIN_PAST_LOG!
  const visit = async (path: string) => {
    const since = logLength(log)
    const visitor = await browser.newPage({
      baseURL: process.env.STANDIN_PAST_URL!,
      userAgent: VISITOR,
    })
    await visitor.goto(path, { waitUntil: 'networkidle' })
    await visitor.getByRole('link').first().hover()
    const seen = { ...(await looks(visitor)), colour: await visitor.getByRole('link').first().evaluate((link) => getComputedStyle(link).color) } // prettier-ignore
    await visitor.close()
    const asked = askedOf('fernhollow.localhost', since, log)
      .filter(({ agent }) => agent === VISITOR)
      .map((line) => line.path)
    return { seen, theme: asked.filter((one) => /hollow\.css|^\/local\//.test(one) && !one.startsWith('/generated/')) }
  }
  await asNew(page.request)
  await withoutCopies(page.request)
  await page.goto(`${site}/pages?view=nowhere`)
  const found = page.getByRole('region', { name: 'Used nowhere' })
  await expect(found.or(page.getByRole('button', { name: 'Look what is used nowhere' })).first()).toBeVisible()
  if (!(await found.isVisible())) await page.getByRole('button', { name: 'Look what is used nowhere' }).click()
  await expect(page.getByRole('button', { name: 'Look again' })).toBeVisible({ timeout: 300_000 })
  const before = await visit('/articles/the-lime-that-leans')
  expect(before.theme).toEqual(['/themes/hollow/hollow.css'])
  expect(before.seen.hover.length + before.seen.focus.length).toBeGreaterThan(0)

  await found.getByRole('row').filter({ hasText: 'hollow.css' }).first().getByRole('button').first().click()
  await page.getByRole('dialog').getByRole('button', { name: 'Serve it in its place …' }).click()
  const form = page.getByRole('form', { name: 'Rule' })
  await expect(form.getByRole('combobox', { name: 'Of it', exact: true })).toHaveValue('file /themes/hollow/hollow.css')
  await expect(form.getByRole('textbox', { name: /^Note/ })).toHaveValue(
    /^Without \d+ rules that nothing had used by sweep \d+\.$/,
  )
  await form.getByRole('combobox', { name: 'Where', exact: true }).selectOption('kind')
  await form.getByRole('combobox', { name: 'Kind', exact: true }).selectOption('article')
  await expect(form.getByRole('status')).toContainText(/−\d[\d.]*\sKB/)
  await form.getByRole('button', { name: 'Draft it' }).click()
  await expect(form).toHaveCount(0)
  await page.getByRole('dialog').getByRole('button', { name: 'Close' }).click()
  const tray = page.getByRole('region', { name: 'Draft tray' })
  await tray.getByLabel('Pages to read before and after').selectOption('none')
  await putLiveUnrehearsed(page)
  await expect(tray).toHaveCount(0, { timeout: 300_000 })

  const served = await visit('/articles/the-lime-that-leans')
  expect(served.theme).toEqual([expect.stringMatching(/^\/local\/[0-9a-f]+\.css$/)])
  expect(served.seen).toEqual(before.seen)
  expect((await visit('/contact')).theme).toEqual(['/themes/hollow/hollow.css'])
  await page.goto(`${site}/rules`)
  await expect(page.getByRole('region', { name: 'Copies on the own host' })).toContainText('made of it, and given')
  await expect(page.getByRole('grid', { name: 'Rules' }).or(page.getByRole('region', { name: 'All rules' })).first()).toContainText('served cleaned') // prettier-ignore
  await takeBack(page)
  expect((await visit('/articles/the-lime-that-leans')).theme).toEqual(['/themes/hollow/hollow.css'])
})
