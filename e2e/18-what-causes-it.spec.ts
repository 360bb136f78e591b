import { expect, test } from '@playwright/test'

/** A page complains; what for is found on the live page, and noted for whoever wrote it. */
test.use({ baseURL: process.env.UNVELT_PAST_URL! })

test('what a page complains for is found by add-on, feature and file, and noted for its author', async ({ page }) => {
  test.setTimeout(480_000)
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
  await expect(cause).toContainText('Code Colours 4.1.0 causes it, by Language pack: text', { timeout: 300_000 })
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
  // All of the page that is not needed for it can be cut away.
  await cause.getByRole('button', { name: 'Smallest page that shows it' }).click()
  const smallest = cause.getByRole('group', { name: 'Smallest page that shows it' })
  await expect(smallest).toContainText(/It still complains with \d+ of \d{3} parts/, { timeout: 300_000 })
  await expect(smallest.getByLabel('Its source')).toContainText('<pre class="code"')
  await expect(smallest.getByLabel('Its source')).not.toContainText('<nav')
  await expect(note).toContainText('The smallest page that shows it, at the same address:')
  const saved = page.waitForEvent('download')
  await smallest.getByRole('link', { name: 'Take it as a file' }).click()
  expect((await saved).suggestedFilename()).toBe('smallest-page.html')
  // It can be sent to somebody by its address, and is there when one comes back.
  await page.reload()
  await expect(cause).toContainText('Code Colours 4.1.0 causes it')
  await expect(smallest).toContainText('It still complains')
})

test('what a guard finds on the live site is traced to who causes it', async ({ page, request }) => {
  test.setTimeout(300_000)
  const pages = (await (await request.get('/api/sites/1/pages')).json()) as { id: number; path: string }[]
  const { id } = pages.find(({ path }) => path === '/articles/counting-rings')!
  const begun = await request.post('/api/sites/1/rounds', { data: { pageIds: [id] } })
  const round = (await begun.json()) as { id: number }
  await page.goto(`/sites/1/rules/rehearsals/${round.id}`)
  const found = page
    .getByRole('list', { name: 'What guards found' })
    .getByRole('listitem')
    .filter({ hasText: 'Errors' })
  await expect(found).toContainText('colourTables is not defined', { timeout: 300_000 })
  await found.getByRole('button', { name: 'What causes it?' }).click()
  const cause = found.getByRole('group', { name: 'What causes it' })
  await expect(cause).toContainText('Code Colours 4.1.0 causes it: the page is well without it.', { timeout: 300_000 })
  await expect(cause).toContainText('pack-text.js')
  await cause.getByText(/^Left out one by one: \d+ readings/).click()
  await expect(cause.getByRole('list', { name: 'How it narrows' }).first()).toContainText('well again')
  await cause.getByRole('button', { name: 'A note for its author' }).click()
  await expect(cause.getByLabel('Note')).toContainText('a page is not as it was before')
})
