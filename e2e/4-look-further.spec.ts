import { readFileSync } from 'node:fs'
import { expect, test } from '@playwright/test'
import { openPage, openStandin } from './places.js'

/** What is measured beyond a sweep, and what comes in from files. */
test.describe.configure({ mode: 'serial' })

test('what visitors do on a page is done after its timing, and the page is pictured', async ({ page }) => {
  await openPage(page, 'Contact')
  await page.getByRole('tab', { name: 'Steps' }).click()
  const steps = page.getByRole('region', { name: 'Steps' }).getByRole('listitem')
  for (const name of ['by itself', 'scroll', 'search', 'fill the form'])
    await expect(steps.filter({ has: page.getByRole('heading', { name, exact: true }) })).toContainText('request')
  await expect(page.getByRole('table', { name: 'Needed later, by payer' })).toContainText('Seek Helper')
  await page.getByRole('tab', { name: 'How it looks' }).click()
  const picture = page.getByRole('img', { name: 'Contact as it was read' })
  await expect.poll(() => picture.evaluate((img: HTMLImageElement) => img.naturalWidth)).toBe(1280)
})

test('a file is charged to a new entry of the inventory, and taken back', async ({ page }) => {
  await openPage(page, 'About the arboretum')
  await page.getByRole('tab', { name: 'Files' }).click()
  const row = page.getByRole('table', { name: 'Files' }).getByRole('row').filter({ hasText: 'figures.js' })
  const before = await row.getByRole('cell').nth(1).textContent()
  await row.getByRole('button', { name: /^Charge / }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Files like', { exact: true }).fill('/*')
  await expect(dialog).toContainText('a pattern that does not fit every address')
  await dialog.getByLabel('Its whole host').check()
  await expect(dialog).toContainText(/Fits 1 of the \d+ requests here/)
  await dialog.getByLabel('Charge them to').selectOption('A new entry of the inventory')
  await dialog.getByLabel('Name of the new entry').fill('Plume figures')
  await dialog.getByRole('button', { name: 'Charge', exact: true }).click()
  await expect(row).toContainText('Plume figures', { timeout: 300_000 })

  await page.getByRole('link', { name: 'Settings' }).click()
  const patterns = page.getByRole('region', { name: 'Own patterns' })
  await patterns.getByRole('button', { name: /^Remove the pattern/ }).click()
  await expect(patterns).toContainText('None so far.')
  await openPage(page, 'About the arboretum')
  await page.getByRole('tab', { name: 'Files' }).click()
  await expect(row).toContainText(before!, { timeout: 300_000 })
})

test('the server is asked without a browser, and kept copies are told from what was made afresh', async ({ page }) => {
  await openPage(page, 'Contact')
  await page.getByRole('tab', { name: 'On the server' }).click()
  await page.getByRole('button', { name: 'Ask 20 times' }).click()
  const answers = page.getByRole('table', { name: 'Answers' })
  const of = (name: string) => answers.getByRole('row').filter({ hasText: name }).getByRole('cell').first()
  await expect(of('made afresh')).toHaveText('10', { timeout: 300_000 })
  await expect(of('kept copies')).toHaveText('10')
  await expect(page.getByText('Told to be copies since')).toBeVisible()
})

test('actions are tried and taken back, tasks are listed apart, and the slowest trace is looked into', async ({
  page,
}) => {
  await openStandin(page)
  await page.getByRole('link', { name: 'Pages' }).click()
  await page.getByRole('link', { name: 'Actions and tasks' }).click()
  await expect(page.getByRole('table', { name: 'Scheduled tasks' })).toContainText('warden_round')
  await page.getByRole('button', { name: 'Try each 10 times' }).click()
  const row = page.getByRole('table', { name: 'Actions' }).getByRole('row').filter({ hasText: 'post a comment' })
  await expect(row).toContainText('Weed Filter')
  await expect(page.getByText(/each 10 times in turn/)).toBeVisible({ timeout: 300_000 })
  await row.getByRole('link', { name: 'Look into it' }).click()
  await expect(page.getByRole('heading', { name: 'POST /forms/comment' })).toBeVisible()
  await expect(page.getByRole('region', { name: 'Step by step' })).toContainText('select word from weed_words')
  await expect(page.getByRole('table', { name: 'Queries' })).toContainText('insert into comments')
})

test('steps are made, taken in from a recording, taken back and put back', async ({ page }) => {
  await openStandin(page)
  await page.getByRole('link', { name: 'Settings' }).click()
  const steps = page.getByRole('region', { name: 'Steps' })
  await steps.getByRole('button', { name: 'A new step …' }).click()
  const form = steps.getByRole('form', { name: 'A new step' })
  await form.getByRole('textbox', { name: /^Name/ }).fill('open the footer')
  await form.getByRole('textbox', { name: /^On/ }).fill('footer >')
  await form.getByRole('button', { name: 'Save the step' }).click()
  await expect(form.getByRole('alert')).toHaveText('This is no CSS selector.')
  await form.getByRole('textbox', { name: /^On/ }).fill('footer summary')
  await form.getByRole('button', { name: 'Save the step' }).click()
  await expect(steps.getByRole('listitem').filter({ hasText: 'press footer summary' })).toHaveCount(2)

  const recording = { title: 'Find an oak', steps: [{ type: 'change', value: 'oak', selectors: [['#q']] }] }
  const chooser = page.waitForEvent('filechooser')
  await steps.getByRole('button', { name: 'Take a recording in …' }).click()
  const buffer = Buffer.from(JSON.stringify(recording))
  await (await chooser).setFiles({ name: 'oak.json', mimeType: 'application/json', buffer })
  await expect(steps).toContainText('type “oak” into #q')

  await steps.getByRole('button', { name: 'Remove open the footer' }).click()
  await expect(steps).not.toContainText('footer summary')
  await page.keyboard.press('Control+z')
  await expect(steps).toContainText('footer summary')
  await steps.getByRole('button', { name: 'Back to the standard ones' }).click()
  await expect(steps).not.toContainText('Find an oak')
})

test('a page is read with and without one outsider, in turn', async ({ page }) => {
  await openPage(page, 'Contact')
  await page.getByRole('tab', { name: 'Without outsiders' }).click()
  await page.getByLabel('Leave out').selectOption({ label: 'Tagbasket: 9 requests to 5 hosts' })
  await page.getByRole('button', { name: 'Read with and without' }).click()
  const taken = page.getByRole('region', { name: 'Without Tagbasket' })
  const requests = taken.getByRole('row').filter({ hasText: 'Requests' })
  await expect(requests).toContainText('better', { timeout: 480_000 })
  await expect(requests).toContainText('−9 requests')
})

test('a sweep is saved as a HAR file and taken in again, with the same figures', async ({ page }, info) => {
  await openPage(page, 'Contact')
  const total = async () => (await page.locator('dl div').filter({ hasText: 'Requests' }).textContent())!
  const before = await total()
  const download = page.waitForEvent('download')
  await page.getByRole('link', { name: 'Save as HAR' }).click()
  const file = info.outputPath('contact.har')
  await (await download).saveAs(file)
  expect(readFileSync(file, 'utf8')).toContain('"_payer":"enquiry-form"')

  const takeIn = async (path: string) => {
    const chooser = page.waitForEvent('filechooser')
    await page.getByRole('button', { name: 'Sweep and lens shown' }).click()
    await page.getByRole('menuitem', { name: 'Take a HAR file in …' }).click()
    await (await chooser).setFiles(path)
  }
  await takeIn(file)
  await expect(page.getByRole('button', { name: 'Sweep and lens shown' })).toContainText('from a HAR file')
  await expect.poll(total).toBe(before)
  await takeIn(process.argv[1]!)
  await expect(page.getByText(/The file is not JSON/)).toBeVisible()
})

test('page views are taken in from a table, and a bad one is refused with the place', async ({ page }) => {
  await openStandin(page)
  await page.getByRole('link', { name: 'Pages' }).click()
  const takeIn = async (text: string) => {
    const chooser = page.waitForEvent('filechooser')
    await page.getByRole('button', { name: 'Take page views in …' }).click()
    await (await chooser).setFiles({ name: 'views.csv', mimeType: 'text/csv', buffer: Buffer.from(text) })
  }
  await takeIn('path,views\n/contact,many\n')
  await expect(page.getByText('Line 2, column views: expected a whole number')).toBeVisible()
  await takeIn('path,views\n/contact,4321\n/,12\n')
  await expect(page.getByRole('row').filter({ hasText: '/contact' })).toContainText('4,321')

  await page.getByRole('button', { name: 'Set up a sweep' }).click()
  await page.getByRole('radio', { name: 'A sample' }).click()
  await page.getByLabel('most visited').fill('1')
  await page
    .getByLabel(/drawn from the rest/)
    .first()
    .fill('0')
  await page.getByLabel(/Read each page/).fill('1')
  await page.getByRole('button', { name: 'Start the sweep' }).click()
  await expect(page.getByRole('progressbar')).toBeVisible()
  await expect(page.getByRole('progressbar')).toHaveCount(0, { timeout: 300_000 })
  // A part of the site does not take the place of the whole, unless one asks for it.
  const shown = page.getByRole('button', { name: 'Sweep and lens shown' })
  await expect(shown).not.toContainText('of visits')
  await page.getByRole('button', { name: 'Show it' }).click()
  await expect(shown).toContainText(/\d of 8 pages, \d+\s% of visits/)
})
