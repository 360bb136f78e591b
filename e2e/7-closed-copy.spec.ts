import { expect, test } from '@playwright/test'
import { plainSite } from '../testing/plain-site.js'

test('a copy that is closed to the public is registered with a name and a password, swept, and shown', async ({
  page,
}) => {
  test.setTimeout(300_000)
  const copy = await plainSite({ closedTo: 'ilse:owl' })
  try {
    await page.goto('/sites/new')
    await page.getByRole('textbox', { name: 'Address' }).fill(copy.address)
    await page.getByLabel('The site is local').check()
    await page.getByLabel('The site has no connector').check()
    const register = page.getByRole('button', { name: 'Register the site' })
    await register.click()
    await expect(page.getByRole('alert')).toContainText('is closed to the public')
    // What is asked for shows by itself.
    await page.getByRole('textbox', { name: 'Name' }).fill('ilse')
    await page.getByRole('textbox', { name: 'Password' }).fill('wren')
    await register.click()
    await expect(page.getByRole('alert')).toContainText('look whether they are right')
    await page.getByRole('textbox', { name: 'Password' }).fill('owl')
    await register.click()
    await expect(page.getByText('5 pages were found by following its links')).toBeVisible()

    await page.getByRole('main').getByRole('button', { name: 'Sweep 5 pages' }).click()
    const strip = page.getByRole('banner')
    await expect(strip.getByRole('button', { name: 'Pause' })).toBeVisible()
    await expect(strip.getByRole('button', { name: 'Sweep 5 pages' })).toBeVisible({ timeout: 300_000 })
    await expect(page.getByRole('gridcell', { name: /^\/parts\/heron-gallery\/ on About/ })).toBeVisible()
    await expect(page.getByRole('rowheader', { name: 'stranger.localhost' })).toBeVisible()

    // The page through the gate: it asks nobody who looks for a password.
    const site = /sites\/(\d+)/.exec(page.url())![1]!
    await page.goto(`/sites/${site}/preview?path=/about`)
    await expect(page.frameLocator('iframe').first().getByRole('heading', { name: 'About' })).toBeVisible()

    await page.goto(`/sites/${site}/settings`)
    const access = page.getByRole('region', { name: 'Closed to the public' })
    await expect(access).toContainText('Unvelt goes in as ilse')
    // What stands above it comes by itself, and a press on what moves away is none.
    await expect(page.getByText('None so far.')).toBeVisible()
    await expect(page.getByText('Suggested by the pages')).toBeVisible()
    await access.getByRole('button', { name: 'Do without' }).click()
    await expect(page.getByText('is closed to the public: it asks')).toBeVisible()
    await access.getByRole('button', { name: 'Change …' }).click()
    await access.getByRole('button', { name: 'Add a header' }).click()
    await access.getByRole('textbox', { name: 'Header' }).fill('Host')
    await access.getByRole('textbox', { name: 'Value' }).fill('elsewhere')
    await access.getByRole('button', { name: 'Try and keep it' }).click()
    await expect(access.getByRole('alert')).toContainText('that nothing else needs')
    await access.getByRole('textbox', { name: 'Header' }).fill('X-Let-In')
    await access.getByRole('button', { name: 'Try and keep it' }).click()
    await expect(access).toContainText('as ilse and with the header X-Let-In')
  } finally {
    await copy.stop()
  }
})
