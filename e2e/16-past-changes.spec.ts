import { expect, test } from '@playwright/test'

/** What the demo's past tells of changes that were live before anybody looked. */

test.use({ baseURL: process.env.UNVELT_PAST_URL! })

test('one change gained, one was taken back with its culprit named, and of one nothing is to be seen', async ({
  page,
}) => {
  await page.goto('/')
  await page.getByRole('link', { name: 'Proof', exact: true }).click()
  await page.getByRole('link', { name: /^Enquiry Form not run on pages of kind product/ }).click()
  const requests = page.getByRole('row', { name: /^Requests/ })
  await expect(requests).toHaveCount(6)
  for (const row of await requests.all()) await expect(row).toContainText('better')

  await page.getByRole('link', { name: 'Proof', exact: true }).click()
  await page.getByRole('link', { name: /^Letterloft fonts connected early/ }).click()
  await expect(page.getByRole('row', { name: /^Requests/ })).toHaveCount(3)
  await expect(page.getByRole('cell', { name: 'better', exact: true })).toHaveCount(0)
  await expect(page.getByRole('cell', { name: 'worse', exact: true })).toHaveCount(0)

  await page.getByRole('link', { name: 'Rules', exact: true }).click()
  await page.getByRole('link', { name: 'Guards once live: 3 rules on 3 add-ons' }).click()
  await expect(page.getByText('This breaks it:')).toBeVisible()
  await expect(page.getByText('Rootlib files left out on /about').first()).toBeVisible()
})
