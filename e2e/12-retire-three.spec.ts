import { expect, test, type Page } from '@playwright/test'
import { isDone, lookQuickly, open, playGuards, step, sweepOnce } from './retirement-steps.js'

/** One of two share bars, a tag that nobody remembers, and thirty-five blocks of forty go, by the interface alone. */
test.describe.configure({ mode: 'serial', timeout: 900_000 })

test.beforeAll(({ playwright }) => lookQuickly(playwright))

/** What visitors saw of it is missed by the guards, as it should be. */
async function acceptWhatIsMeantToGo(page: Page): Promise<void> {
  const sheet = page.url()
  await step(page, 'Rehearsal').getByRole('link', { name: 'Rehearsed' }).click()
  const failing = page
    .getByRole('table', { name: 'Guards' })
    .getByRole('row')
    .filter({ has: page.getByRole('img', { name: 'fails' }) })
  await expect(failing.first()).toBeVisible()
  for (let left = await failing.count(); left > 0; left = await failing.count()) {
    await failing.first().getByRole('button').click()
    const accept = page.getByRole('button', { name: 'Accept …' })
    await expect(accept.first()).toBeVisible()
    for (let n = await accept.count(); n > 0; n--) {
      await accept.first().click()
      const why = page.getByRole('textbox', { name: 'Why this is fine' })
      await why.fill('It is meant to go.')
      await page.getByRole('button', { name: 'Accept', exact: true }).click()
      await expect(why).toHaveCount(0)
    }
    await expect(failing).toHaveCount(left - 1)
  }
  await page.goto(sheet)
}

async function wordSnapshotRehearsal(page: Page): Promise<void> {
  await page.getByRole('textbox', { name: 'Who says that it may go' }).fill('Ilse')
  await page.getByRole('button', { name: 'It may go' }).click()
  await page.getByRole('button', { name: 'Make a snapshot' }).click()
  await isDone(page, 'Snapshot')
  await page.getByRole('button', { name: 'Rehearse without it' }).click()
  await expect(step(page, 'Rehearsal')).toContainText(/all guards hold|look at what is missed/, { timeout: 400_000 })
  if (!(await step(page, 'Rehearsal').textContent())!.includes('all guards hold')) await acceptWhatIsMeantToGo(page)
  await isDone(page, 'Rehearsal')
  await page.getByRole('button', { name: /^Switch (it|them) off$/ }).click()
  await isDone(page, 'Switched off')
  await step(page, 'Watched').getByRole('combobox').selectOption('0')
}

async function removeAndClear(page: Page, name: string): Promise<void> {
  await page.getByRole('button', { name: 'Look what is missed' }).click()
  await isDone(page, 'Watched')
  await page.getByRole('button', { name: 'Remove it …' }).click()
  await page
    .getByRole('dialog', { name: `Remove ${name}?` })
    .getByRole('button', { name: 'Remove it' })
    .click()
  await isDone(page, 'Removed')
  const all = page.getByRole('button', { name: /^Choose all/ })
  await expect(all.or(step(page, 'Leftovers').getByRole('img', { name: 'done', exact: true }))).toBeVisible()
  if (await all.isVisible()) {
    await all.click()
    await page.getByRole('button', { name: /^Remove \d+ things? …/ }).click()
    await page.getByRole('dialog').getByRole('button', { name: 'Remove them' }).click()
  }
  await isDone(page, 'Leftovers')
}

/** The retirement's gain, the list of the gone, two sweeps side by side and Standing say the same. */
async function allAgreeOnGain(page: Page, name: string): Promise<void> {
  const gain = page.getByRole('definition')
  const requests = (await gain.first().textContent())!
  const transfer = (await gain.nth(1).textContent())!
  expect(requests).toMatch(/^−/)
  await page.getByRole('link', { name: /^sweep \d+ against sweep \d+$/ }).click()
  const mean = page.getByRole('table', { name: 'The mean page' })
  const difference = (measure: string) =>
    mean
      .getByRole('row', { name: new RegExp(`^${measure}`) })
      .getByRole('cell')
      .nth(2)
  await expect(difference('Requests')).toHaveText(requests)
  await expect(difference('Transfer')).toHaveText(transfer)
  await expect(
    page.getByRole('table', { name: /^Who differs/ }).getByRole('row', { name: new RegExp(name) }),
  ).toContainText('is gone')
  await open(page, 'retirements')
  const gone = page.getByRole('table', { name: 'Gone' }).getByRole('row', { name: new RegExp(name) })
  await expect(gone.getByRole('cell', { name: requests, exact: true })).toBeVisible()
  await open(page, 'standing')
  await expect(page.getByRole('region', { name: 'What changed' })).toContainText(`${name} is gone`)
}

for (const [slug, name] of [
  ['pass-it-on', 'Pass It On'],
  ['template-leftover', 'Tag in the template'],
] as const)
  test(`@long ${name} is retired, and no page has it any more`, async ({ page }) => {
    await open(page, `add-ons/${slug}`)
    await page.getByRole('button', { name: 'Retire it …' }).click()
    await expect(page.getByRole('heading', { name: `Retire ${name}` })).toBeVisible()
    await page.getByRole('combobox', { name: 'What takes over' }).selectOption('nothing')
    await page.getByRole('button', { name: 'Write it down' }).click()
    await isDone(page, 'What takes over')
    await wordSnapshotRehearsal(page)
    await sweepOnce(page)
    await removeAndClear(page, name)
    await sweepOnce(page)
    await isDone(page, 'Proof')
    await page.getByRole('button', { name: 'It is done' }).click()
    await page.getByRole('link', { name: 'All retirements' }).click()
    const gone = page.getByRole('table', { name: 'Gone' }).getByRole('row', { name: new RegExp(name) })
    await expect(gone).toContainText('−')
    await gone.getByRole('link', { name }).click()
    await allAgreeOnGain(page, name)
    await open(page, 'ledger')
    await expect(page.getByRole('rowheader', { name: 'Canopy Slider' })).toBeVisible()
    await expect(page.getByRole('rowheader', { name })).toHaveCount(0)
  })

test('@long thirty-five blocks that nobody uses are switched off together, and the five in use stay', async ({
  page,
}) => {
  await open(page, 'retirements')
  const idle = page.getByRole('region', { name: 'Features that nobody uses' })
  await expect(idle).toContainText('35 of 40 features that are switched on')
  await idle.getByRole('button', { name: 'Switch off the idle features of Grove Builder' }).click()
  await expect(page.getByRole('heading', { name: /35 features/ })).toBeVisible()
  await wordSnapshotRehearsal(page)
  await sweepOnce(page)
  await page.getByRole('button', { name: 'Look what is missed' }).click()
  await isDone(page, 'Watched')
  await isDone(page, 'Proof')
  await open(page, 'add-ons/grove-builder')
  await expect(page.getByText(/5 of 40|40 features, 5/).first()).toBeVisible()
})

test('@long after it all every page answers, complains of nothing and does what its steps say', async ({ page }) => {
  await playGuards(page)
})
