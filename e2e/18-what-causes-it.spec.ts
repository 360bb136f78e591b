import { expect, test } from '@playwright/test'

/** A page complains; what for is found on the live page, and noted for whoever wrote it. */
test.use({ baseURL: process.env.UNVELT_PAST_URL! })

test('what a page complains for is found by add-on, feature and file, and noted for its author', async ({ page }) => {
  test.setTimeout(300_000)
  await page.goto('/')
  // An update broke something since the sweep before: that is told where the site stands.
  const anew = page.getByRole('status', { name: 'Complains anew' })
  await expect(anew).toContainText('colourTables is not defined')
  await anew.getByRole('link', { name: 'Counting rings, with code' }).click()
  await expect(page.getByRole('tab', { name: /^Complaints/ })).toHaveAttribute('aria-selected', 'true')
  const complaint = page
    .getByRole('list', { name: 'Complaints' })
    .getByRole('listitem')
    .filter({ hasText: 'colourTables is not defined' })
  await complaint.getByRole('button', { name: 'What causes it?' }).click()
  const cause = complaint.getByRole('group', { name: 'What causes it' })
  await expect(cause).toContainText(/readings? so far/)
  await expect(cause).toContainText('Code Colours 4.1.0 causes it, by Language pack: text', { timeout: 240_000 })
  await expect(cause).toContainText('With version 4.0.0 in its place the page does not complain.')
  await expect(cause).toContainText(/Seen at .*pack-text\.js:\d+:\d+/)
  await cause.getByText(/^Among add-ons: \d+ readings/).click()
  await expect(cause.getByRole('list', { name: 'How it narrows' }).first()).toContainText('none: does not')
  await cause.getByRole('button', { name: 'A note for its author' }).click()
  const note = cause.getByLabel('Note')
  await expect(note).toContainText('Error: colourTables is not defined')
  await expect(note).toContainText('pack-text.js')
  await expect(note).toContainText('With version 4.0.0 in its place')
  await expect(note).toContainText('/articles/counting-rings with the browser’s console open')
  // It can be sent to somebody by its address, and is there when one comes back.
  await page.reload()
  await expect(cause).toContainText('Code Colours 4.1.0 causes it')
})
