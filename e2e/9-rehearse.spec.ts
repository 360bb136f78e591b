import { expect, test, type Page } from '@playwright/test'
import { asNew, takeBack } from './places.js'

/** Drafts are tried on the real pages before they are live, and what would break is seen. */
test.use({ baseURL: process.env.UNVELT_PAST_URL! })
test.describe.configure({ mode: 'serial' })
test.beforeAll(({ request }) => asNew(request))

const tray = (page: Page) => page.getByRole('region', { name: 'Draft tray' })
const place = (page: Page, name: string) => page.getByRole('navigation', { name: 'Places' }).getByRole('link', { name })

/** Puts the drafts live with a reason in the place of a rehearsal, and reads no page again. */
async function putLiveUnrehearsed(page: Page): Promise<void> {
  await tray(page).getByLabel('Pages to read before and after').selectOption('none')
  await tray(page).getByRole('button', { name: 'Put live' }).click()
  await page.getByRole('dialog').getByRole('textbox').fill('tried by hand')
  await page
    .getByRole('dialog')
    .getByRole('button', { name: /^Put live/ })
    .click()
  await expect(tray(page)).toHaveCount(0, { timeout: 300_000 })
}

test('a form that would go is missed in the rehearsal, looked at, accepted, and the drafts go live unasked', async ({
  page,
}) => {
  await page.goto('/')
  await expect(place(page, 'Rules')).toBeVisible()
  const site = /sites\/(\d+)/.exec(page.url())![1]!
  // Taking steps is most of a look, and tried elsewhere.
  await page.request.put(`/api/sites/${site}/steps`, { data: { steps: [] } })
  const here = { level: 'page', path: '/contact' }
  const rules = [
    { addon: 'pass-it-on', effect: 'leave-out', place: here },
    { addon: 'enquiry-form', effect: 'skip', place: here },
  ]
  await page.request.post(`/api/sites/${site}/drafts`, { data: { rules } })
  await place(page, 'Rules').click()
  await expect(page.getByRole('heading', { name: 'Rules', level: 1 })).toBeVisible()
  await page.reload()

  await tray(page).getByRole('button', { name: 'Rehearse' }).click()
  await expect(tray(page).getByRole('link', { name: /of \d views rehearsed/ })).toBeVisible()
  const outcome = tray(page).getByRole('link', { name: /^Rehearsed: \d+ guards fail/ })
  await expect(outcome).toBeVisible({ timeout: 480_000 })
  await tray(page).getByRole('button', { name: 'Put live' }).click()
  const window = page.getByRole('dialog', { name: 'The rehearsal did not pass' })
  await expect(window).toContainText('guards fail')
  await page.keyboard.press('Escape')

  await outcome.click()
  await expect(page.getByRole('heading', { name: /^Rehearsal: 2 rules/ })).toBeVisible()
  const contact = page.getByRole('table', { name: 'Guards' }).getByRole('row', { name: /\/contact Desk/ })
  await expect(contact.getByRole('img', { name: 'fails' }).first()).toBeVisible()
  const found = page.getByRole('list', { name: 'What guards found' })
  await expect(found).toContainText('/forms/enquiry#Email: email')
  await expect(page.getByRole('img', { name: 'The page with the drafts' })).toBeVisible()
  const slider = page.getByRole('slider', { name: 'How much is shown with the drafts' })
  await slider.focus()
  await slider.press('End')
  await expect(slider).toHaveValue('100')
  const requests = page.getByRole('table', { name: 'Predicted and measured' }).getByRole('row', { name: /^Requests/ })
  await expect(requests).toHaveText(/−(\d+)\srequests?−\1\srequests?$/)

  // Which of the two it is, is found by asking the page.
  const fields = found.getByRole('listitem').filter({ has: page.locator('b', { hasText: 'Fields' }) })
  await fields.getByRole('button', { name: 'Find what breaks it' }).click()
  const culprit = fields.getByRole('group', { name: 'What breaks it' })
  await expect(culprit).toContainText('This breaks it:', { timeout: 300_000 })
  await expect(culprit.getByRole('list', { name: 'Culprits' }).getByRole('listitem')).toHaveText(
    /^Enquiry Form not run by the site on \/contact – it was seen in use here/,
  )
  await culprit.getByText(/^How it narrows/).click()
  await expect(culprit.getByRole('list', { name: 'How it narrows' })).toContainText('breaks it')
  await culprit.getByRole('button', { name: 'Set it aside' }).click()
  await expect(culprit).toContainText('set aside')
  await place(page, 'Rules').click()
  const aside = page.getByRole('region', { name: 'Set aside' })
  await expect(aside).toContainText('Breaks form fields: /forms/enquiry')
  await aside.getByRole('button', { name: 'Take up again' }).click()
  await expect(aside).toHaveCount(0)
  await page.goBack()
  // What moves the rows under the pointer has gone by then.
  await expect(page.getByText('It says nothing of what would go live now')).toHaveCount(0)

  // The address names the page, so that it can be sent to whoever has to look.
  await contact.getByRole('button').click()
  await expect(page).toHaveURL(/page=\d+&lens=\d+/)
  for (;;) {
    const failing = page
      .getByRole('table', { name: 'Guards' })
      .getByRole('row')
      .filter({
        has: page.getByRole('img', { name: 'fails' }),
      })
    if ((await failing.count()) === 0) break
    await failing.first().getByRole('button').click()
    const item = found
      .getByRole('listitem')
      .filter({ has: page.getByRole('button', { name: 'Accept …' }) })
      .first()
    const name = await item.locator('b').first().textContent()
    await item.getByRole('button', { name: 'Accept …' }).click()
    await page.getByRole('textbox', { name: 'Why this is fine' }).fill('People write to the desk instead.')
    await page.getByRole('button', { name: 'Accept', exact: true }).click()
    await expect(
      found.getByRole('listitem').filter({ hasText: name! }).getByText('People write to the desk instead.'),
    ).toBeVisible()
  }
  await expect(tray(page).getByRole('link', { name: /^Rehearsed: \d+ differences? accepted/ })).toBeVisible()

  await tray(page).getByLabel('Pages to read before and after').selectOption('none')
  await tray(page).getByRole('button', { name: 'Put live' }).click()
  await expect(tray(page)).toHaveCount(0, { timeout: 300_000 })
  await place(page, 'Rules').click()
  await expect(page.getByRole('table', { name: 'Rules' })).toContainText('Enquiry Form')
  await expect(page.getByRole('list', { name: 'Rehearsals' }).getByRole('listitem')).not.toHaveCount(0)
  await takeBack(page)
  // What others left live stays as it was.
  await expect(page.getByRole('list', { name: 'Versions' }).getByRole('listitem').first()).toContainText(
    /Taken back to version|All rules taken back/,
  )
  const all = page.getByRole('region', { name: 'All rules' })
  await expect(all.getByText('Enquiry Form', { exact: true })).toHaveCount(0, { timeout: 300_000 })
})

test('what is wrong with the drafts is told before anything is tried, with a way out in one press', async ({
  page,
}) => {
  await page.goto('/')
  await expect(place(page, 'Rules')).toBeVisible()
  const site = /sites\/(\d+)/.exec(page.url())![1]!
  const rules = [{ addon: 'enquiry-form', effect: 'skip', place: { level: 'area', area: 'public' } }]
  await page.request.post(`/api/sites/${site}/drafts`, { data: { rules } })
  await place(page, 'Rules').click()
  await expect(page.getByRole('heading', { name: 'Rules', level: 1 })).toBeVisible()
  await page.reload()
  const finding = page
    .getByRole('region', { name: 'Findings' })
    .getByRole('listitem')
    .filter({ hasText: 'seen in use on 1 page' })
  await expect(finding).toContainText('/contact')
  await finding.getByRole('button', { name: 'Keep it there' }).click()
  await expect(finding).toHaveCount(0)
  await expect(tray(page)).toContainText('2 drafts')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(tray(page)).toContainText('1 draft')
  await expect(finding).toHaveCount(1)
  await tray(page).getByRole('button', { name: 'Throw away' }).click()
  await expect(tray(page)).toHaveCount(0)
  await expect(finding).toHaveCount(0)
})

test('a rule is written in full, found among others, changed, and a live one goes by a draft', async ({ page }) => {
  await page.goto('/')
  await place(page, 'Rules').click()
  await page.getByRole('button', { name: 'A new rule …' }).click()
  const form = page.getByRole('form', { name: 'Rule' })
  await form.getByRole('combobox', { name: 'Add-on', exact: true }).selectOption({ label: 'Canopy Slider' })
  await form.getByRole('combobox', { name: 'Is', exact: true }).selectOption({ label: 'held until in sight' })
  await form.getByRole('combobox', { name: 'Where', exact: true }).selectOption({ label: 'pages of a kind' })
  await form.getByRole('combobox', { name: 'Kind', exact: true }).selectOption('article')
  await form.getByRole('combobox', { name: 'At', exact: true }).selectOption({ label: 'a handset' })
  await form.locator('[name=note]').fill('below the fold on phones')
  await form.locator('[name=expires]').fill('2020-01-31')
  await expect(form.getByRole('status')).toContainText(/Holds on \d+ pages/)
  await form.getByRole('button', { name: 'Draft it' }).click()
  const table = page.getByRole('table', { name: 'Rules' })
  const row = table.getByRole('row', { name: /held until in sight/ })
  await expect(row).toContainText('on every page of kind article, on a handset')
  await expect(row).toContainText('below the fold on phones until 2020-01-31')
  const findings = page.getByRole('region', { name: 'Findings' })
  await expect(findings).toContainText('was to hold until 2020-01-31')

  await row.getByRole('button', { name: /^Change/ }).click()
  await form.getByRole('combobox', { name: 'Is', exact: true }).selectOption({ label: 'held until asked for' })
  await form.locator('[name=expires]').fill('')
  await form.getByRole('button', { name: 'Draft it' }).click()
  await expect(table.getByRole('row', { name: /held until asked for/ })).toBeVisible()
  await expect(row).toHaveCount(0)
  // What others left live may be found fault with, too.
  await expect(page.getByText('was to hold until 2020-01-31')).toHaveCount(0)
  await table.getByRole('checkbox', { name: /^Choose Canopy Slider/ }).check()
  const bulk = page.getByRole('form', { name: 'Change what is chosen' })
  await bulk.getByLabel('Their note').fill('agreed with the desk')
  await bulk.getByRole('button', { name: 'Draft the change' }).click()
  await expect(table.getByRole('row', { name: /held until asked for/ })).toContainText('agreed with the desk')
  await expect(bulk).toHaveCount(0)
  const find = page.getByRole('searchbox', { name: 'Find rules' })
  await find.fill('desk handset')
  await expect(table.getByRole('row', { name: /asked for/ })).toBeVisible()
  await find.fill('no such thing')
  await expect(page.getByText('No rule has all of these words.')).toBeVisible()
  await find.fill('')

  const onPage = page.getByRole('region', { name: 'On one page' })
  const article = await onPage.locator('optgroup[label="article"] option').first().getAttribute('value')
  await onPage.getByLabel('Page').selectOption(article!)
  await expect(onPage).toContainText('No rule touches this page for such a visitor.')
  await onPage.getByLabel('Device').selectOption('handset')
  const decided = onPage.getByRole('table', { name: 'What holds on the page' })
  await expect(decided.getByRole('row', { name: /Canopy Slider held until asked for/ })).toContainText(
    'page of kind article',
  )

  // What is live can go the same way, and come back by a file.
  await putLiveUnrehearsed(page)
  const saved = page.waitForEvent('download')
  await page.getByRole('link', { name: 'Save as a file' }).click()
  const file = await (await saved).path()
  await table.getByRole('checkbox', { name: /^Choose Canopy Slider/ }).check()
  await page.getByRole('button', { name: 'Draft that they go' }).click()
  await expect(table.getByRole('row', { name: /draft: goes/ })).toBeVisible()
  await expect(tray(page)).toContainText('1 draft')
  await putLiveUnrehearsed(page)
  await expect(page.getByRole('region', { name: 'All rules' }).getByText('Canopy Slider')).toHaveCount(0)
  await page.getByRole('list', { name: 'Versions' }).getByText('1 difference from the one before').first().click()
  await expect(page.getByRole('list', { name: 'Differences' }).first()).toContainText('gone: Canopy Slider')

  const chooser = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: 'Take a file in …' }).click()
  await (await chooser).setFiles(file)
  await expect(table.getByRole('row', { name: /held until asked for/ })).toContainText('draft')
  await tray(page).getByRole('button', { name: 'Throw away' }).click()
  await expect(tray(page)).toHaveCount(0)
})
