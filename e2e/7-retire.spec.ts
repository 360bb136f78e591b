import { expect, test, type Page } from '@playwright/test'
import { isDone, lookQuickly, open, playGuards, step, sweepOnce } from './retirement-steps.js'

/** The old visit counter goes for good, with its tables, and comes back; and what went long ago is cleared away. */
test.describe.configure({ mode: 'serial', timeout: 600_000 })

test.beforeAll(({ playwright }) => lookQuickly(playwright))

const place = (page: Page, name: string) => page.getByRole('navigation', { name: 'Places' }).getByRole('link', { name })

test('the guards are played on the live site before anything goes', async ({ page }) => {
  await playGuards(page)
  await expect(page.getByText('for the first time: what is wrong is wrong by itself')).toBeVisible()
})

test('an add-on is retired step by step, each ticked by the facts alone, and put back row for row', async ({
  page,
}) => {
  await open(page, 'retirements')
  await page.getByRole('region', { name: 'To be asked first' }).getByRole('link', { name: 'Page Tally' }).click()
  await page.getByRole('button', { name: 'Retire it …' }).click()
  await expect(page.getByRole('heading', { name: 'Retire Page Tally' })).toBeVisible()
  await isDone(page, 'Needs')

  await page.getByRole('combobox', { name: 'What takes over' }).selectOption('server')
  await page.getByRole('textbox', { name: 'Note' }).fill('The host counts visits.')
  await page.getByRole('button', { name: 'Write it down' }).click()
  await isDone(page, 'What takes over')
  await page.getByRole('textbox', { name: 'Who says that it may go' }).fill('Ilse')
  await page.getByRole('button', { name: 'It may go' }).click()
  await isDone(page, 'Owner’s word')
  await page.getByRole('button', { name: 'Make a snapshot' }).click()
  await isDone(page, 'Snapshot')
  await expect(step(page, 'Snapshot')).toContainText(/1 table of its own with \d+ rows?, every table read back/)

  await page.getByRole('button', { name: 'Rehearse without it' }).click()
  await expect(step(page, 'Rehearsal')).toContainText('all guards hold', { timeout: 280_000 })
  await page.getByRole('button', { name: 'Switch it off' }).click()
  await isDone(page, 'Switched off')
  await step(page, 'Watched').getByRole('combobox').selectOption('0')
  await expect(step(page, 'Watched')).toContainText('The sweep at its end is still to come')
  await page.getByRole('button', { name: 'Look what is missed' }).click()
  await expect(step(page, 'Watched')).toContainText('Nobody has asked for its files in vain')
  await sweepOnce(page)
  await isDone(page, 'Watched')

  await page.getByRole('button', { name: 'Remove it …' }).click()
  await page.getByRole('dialog', { name: 'Remove Page Tally?' }).getByRole('button', { name: 'Remove it' }).click()
  await isDone(page, 'Removed')
  const leftovers = page.getByRole('list', { name: 'Leftovers' })
  await expect(leftovers.getByRole('checkbox', { checked: true })).toHaveCount(0)
  await expect(leftovers).toContainText('tally_views')
  await page.getByRole('button', { name: /^Choose all/ }).click()
  await page.getByRole('button', { name: /^Remove \d+ things? …/ }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Remove them' }).click()
  await isDone(page, 'Leftovers')
  await expect(step(page, 'Proof')).toContainText('No sweep has been done since')
  const sheet = page.url()

  // What no visitor ever saw is missed by no guard.
  await playGuards(page)
  await expect(page.getByRole('link', { name: 'how they should be' })).toBeVisible()
  await page.goto(sheet)

  await page.getByRole('button', { name: 'Put it back' }).click()
  await expect(page.getByRole('region', { name: 'What was done' })).toContainText(
    /Put back from snapshot \d+: 1 tables? with \d+ rows/,
    {
      timeout: 300_000,
    },
  )
  await page.getByRole('button', { name: 'Switch it on again' }).click()
  await expect(page.getByRole('button', { name: 'Switch it on again' })).toHaveCount(0, { timeout: 300_000 })
  await page.getByRole('button', { name: 'Call it off' }).click()
  await expect(page.getByRole('status').filter({ hasText: 'Called off' })).toBeVisible()
})

test('what an add-on left behind that went long ago is cleared away, and could come back', async ({ page }) => {
  await open(page, 'retirements')
  const behind = page.getByRole('region', { name: 'Left behind' })
  await expect(behind.getByRole('listitem').filter({ hasText: 'Banner Rotor' })).toContainText(
    /1 table with [\d,]+ rows/,
  )
  await behind.getByRole('button', { name: 'Clear away what Banner Rotor left' }).click()
  await page.getByRole('textbox', { name: 'Who says that it may go' }).fill('Ilse')
  await page.getByRole('button', { name: 'It may go' }).click()
  await page.getByRole('button', { name: 'Make a snapshot' }).click()
  await isDone(page, 'Snapshot')
  await page.getByRole('button', { name: /^Choose all/ }).click()
  await page.getByRole('button', { name: /^Remove \d+ things …/ }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Remove them' }).click()
  await isDone(page, 'Proof')
  await page.getByRole('button', { name: 'It is done' }).click()
  await page.getByRole('link', { name: 'All retirements' }).click()
  await expect(page.getByRole('table', { name: 'Gone' })).toContainText('Banner Rotor')
  await expect(behind.getByText('Form Nook')).toBeVisible()
  await expect(behind.getByText('Banner Rotor')).toHaveCount(0)

  // Long after, without its sheet.
  const snapshots = page.getByRole('region', { name: 'Snapshots' })
  await snapshots
    .getByRole('button', { name: /^What is in snapshot/ })
    .first()
    .click()
  await expect(
    snapshots.getByRole('table', { name: 'Changed since' }).getByRole('row', { name: /rotor_banners/ }),
  ).toContainText('gone')
  await snapshots.getByRole('combobox', { name: /^What one add-on had/ }).selectOption({ label: 'Banner Rotor' })
  const asked = page.getByRole('dialog', { name: 'Put back what Banner Rotor had?' })
  await expect(asked).toContainText('rotor_banners')
  await asked.getByRole('button', { name: 'Put it back' }).click()
  await expect(snapshots.getByRole('list', { name: 'Put back' })).toContainText(/was put back.*byte for byte/, {
    timeout: 300_000,
  })
  await expect(behind.getByText('Banner Rotor')).toBeVisible()
})

test('whoever may know is asked on the spot, and it can be taken back', async ({ page }) => {
  await open(page, 'retirements')
  const asked = page.getByRole('region', { name: 'To be asked first' })
  await asked.getByRole('button', { name: 'Ask about Bramble Menu' }).click()
  const form = asked.getByRole('form', { name: 'A question about Bramble Menu' })
  await expect(form.getByRole('textbox', { name: 'Question' })).toHaveValue('Does anybody still need Bramble Menu?')
  await form.getByRole('textbox', { name: 'Whom to ask' }).fill('the desk')
  await form.getByRole('button', { name: 'Ask', exact: true }).click()
  await expect(form).toHaveCount(0)
  await asked.getByRole('link', { name: 'Bramble Menu' }).click()
  await expect(page.getByRole('region', { name: 'Questions' })).toContainText('Does anybody still need Bramble Menu?')
  await page.getByRole('button', { name: 'Undo' }).first().click()
  await expect(page.getByRole('region', { name: 'Questions' }).getByText('Does anybody still need')).toHaveCount(0)
})

test('the pages that use an add-on are changed at the site, and the worklist shrinks by what the site says', async ({
  page,
}) => {
  await open(page, 'standing')
  await place(page, 'Add-ons').click()
  await page.getByRole('link', { name: 'Walk Almanac' }).first().click()
  await page.getByRole('button', { name: 'Retire it …' }).click()
  await expect(page.getByRole('heading', { name: 'Retire Walk Almanac' })).toBeVisible()
  const sheet = page.url()
  const worklist = page.getByRole('list', { name: 'Worklist' })
  await expect(worklist.getByRole('img', { name: 'to be changed' })).toHaveCount(3)
  const who = worklist.getByRole('textbox', { name: /^Who changes/ }).first()
  await who.fill('Ilse')
  await who.blur()
  await page.reload()
  await expect(who).toHaveValue('Ilse')
  const paths = await worklist
    .getByRole('listitem')
    .evaluateAll((items) => items.map((item) => /\/\S*/.exec(item.querySelector('span span')!.textContent)![0]))

  const site = process.env.STANDIN_URL!
  await page.goto(`${site}/sign-in`)
  await page.locator('[name=name]').fill('editor')
  await page.locator('[name=word]').fill('gatehouse')
  await page.keyboard.press('Enter')
  await expect(page).toHaveURL(/\/members$/)
  for (const [n, path] of paths.entries()) {
    await page.goto(`${site}/office/editor?path=${encodeURIComponent(path)}`)
    await page.getByRole('checkbox', { name: /^\[\[walks/ }).check()
    await page.getByRole('button', { name: 'Save' }).click()
    await expect(page.getByText('Saved.')).toBeVisible()
    await page.goto(sheet)
    await page.getByRole('button', { name: 'Ask the site again' }).click()
    await expect(worklist.getByRole('img', { name: 'changed', exact: true })).toHaveCount(n + 1, { timeout: 300_000 })
  }
  await expect(page.getByText('All 3 pages are changed')).toBeVisible()
  await page.getByRole('combobox', { name: 'What takes over' }).selectOption('nothing')
  await page.getByRole('button', { name: 'Write it down' }).click()
  await isDone(page, 'What takes over')
  await page.getByRole('button', { name: 'Call it off' }).click()
  await expect(page.getByRole('status').filter({ hasText: 'Called off' })).toBeVisible()
})
