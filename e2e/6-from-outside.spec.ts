import { expect, test } from '@playwright/test'
import { plainSite } from '../testing/plain-site.js'

test('a site without a connector is found by its links, swept, and its code told apart by folder', async ({ page }) => {
  test.setTimeout(300_000)
  const plain = await plainSite()
  try {
    await page.goto('/sites/new')
    await page.getByRole('textbox', { name: 'Address' }).fill(plain.address)
    await page.getByLabel('The site is local').check()
    await page.getByRole('button', { name: 'Register the site' }).click()
    await expect(page.getByText('answers, but has no connector')).toBeVisible()
    await page.getByLabel('The site has no connector').check()
    await page.getByRole('button', { name: 'Register the site' }).click()
    await expect(page.getByText('5 pages were found by following its links')).toBeVisible()

    await page.getByRole('link', { name: 'Pages' }).click()
    await page.getByRole('button', { name: 'Name pages' }).click()
    const addresses = page.getByRole('textbox', { name: 'Addresses' })
    await addresses.fill('http://elsewhere.localhost/')
    await page.getByRole('button', { name: 'Name them' }).click()
    await expect(page.getByRole('alert')).toContainText('Line 1: expected an address at http://plain.localhost')
    await addresses.fill('/news/ice?print=1')
    await page.getByRole('button', { name: 'Name them' }).click()
    await expect(page.getByText('1 page named')).toBeVisible()
    await page.getByRole('button', { name: 'Undo' }).click()

    await page.getByRole('link', { name: 'Ledger' }).click()
    await page.getByRole('main').getByRole('button', { name: 'Sweep 5 pages' }).click()
    const strip = page.getByRole('banner')
    await expect(strip.getByRole('button', { name: 'Pause' })).toBeVisible()
    await expect(strip.getByRole('button', { name: 'Sweep 5 pages' })).toBeVisible({ timeout: 300_000 })
    await page.getByRole('gridcell', { name: /^\/parts\/heron-gallery\/ on About/ }).click()
    const particulars = page.getByRole('complementary', { name: 'Particulars' })
    await expect(particulars.getByRole('row', { name: /^Server time/ })).toContainText('not told')

    // Drafts and rehearsals are for any site; only going live needs its help.
    await page.getByRole('rowheader', { name: 'stranger.localhost' }).click()
    await expect(particulars).toContainText('going live needs a connector')
    await particulars.getByRole('button', { name: 'Leave out here' }).click()
    const tray = page.getByRole('region', { name: 'Draft tray' })
    await expect(tray).toContainText('1 draft')
    await expect(tray.getByRole('button', { name: 'Put live' })).toHaveCount(0)
    plain.asked.length = 0
    await tray.getByRole('button', { name: 'Rehearse' }).click()
    await expect(tray.getByRole('link', { name: /^Rehearsed:/ })).toBeVisible({ timeout: 420_000 })
    const times = (path: string) => plain.asked.filter((asked) => asked === path).length
    // Each page thrice under two lenses, and the outsider's file only where the drafts did not hold.
    expect(times('/about')).toBe(6)
    expect(times('/count.js')).toBe(5 * 2 * 2)
    await tray.getByRole('link', { name: /^Rehearsed: all guards hold/ }).click()
    await expect(page.getByRole('heading', { name: /^Rehearsal: .*left out everywhere/ })).toBeVisible()
    await expect(page.getByRole('table', { name: 'Guards' }).getByRole('row')).toHaveCount(1 + 5 * 2)
    const figures = page.getByRole('table', { name: 'Predicted and measured' })
    await expect(figures.getByRole('row', { name: /^Requests .*−1\srequest\s−1\srequest$/ })).toBeVisible()

    // The page as it would be, through the gate; a form on it that must go on working is recorded there.
    await page.setViewportSize({ width: 1600, height: 900 })
    const site = /sites\/(\d+)/.exec(page.url())![1]!
    await page.goto(`/sites/${site}/preview?path=/about`)
    const shown = page.frameLocator('iframe[title="The page as it would be"]')
    await expect(shown.getByRole('heading', { name: 'About' })).toBeVisible()
    plain.asked.length = 0
    await page.getByRole('button', { name: 'Record steps' }).click()
    await expect(page.getByRole('heading', { name: 'Recording' })).toBeVisible()
    await shown.getByLabel('Your question').fill('Do otters sleep?')
    await shown.getByRole('button', { name: 'Ask' }).click()
    await expect(shown.getByRole('heading', { name: 'It has arrived' })).toBeVisible()
    expect(times('/count.js')).toBe(0)
    await page.getByRole('button', { name: 'Expect something' }).click()
    await shown.getByRole('heading', { name: 'It has arrived' }).click()
    await page.getByRole('button', { name: 'Stop' }).click()
    const keep = page.getByRole('dialog', { name: 'Keep as a step' })
    await keep.getByRole('textbox', { name: /^Name/ }).fill('ask')
    await keep.getByRole('button', { name: 'Play it twice' }).click()
    await expect(keep.getByRole('status')).toHaveText('It went through both times.', { timeout: 300_000 })
    await keep.getByRole('button', { name: 'Save the step' }).click()
    await page.getByRole('link', { name: /^Back to/ }).click()
    const pages = (await (await page.request.get(`/api/sites/${site}/pages`)).json()) as { id: number; path: string }[]
    const about = pages.find(({ path }) => path === '/about')!.id
    plain.asked.length = 0
    await page.request.post(`/api/sites/${site}/rehearsals`, { data: { pageIds: [about] } })
    await expect(tray.getByRole('link', { name: /^Rehearsed: all guards hold/ })).toBeVisible({ timeout: 300_000 })
    // Nothing takes it back here: it arrives at every reading, with the drafts and without.
    expect(times('/ask')).toBe(6)

    // Whoever keeps the site carries the rules out; they count as live once they are found to hold.
    await tray.getByRole('link', { name: 'Hand out and verify …' }).click()
    const gate = page.getByRole('region', { name: 'At your own gate' })
    await expect(gate).toBeInViewport()
    await gate.getByRole('button', { name: 'Verify' }).click()
    const verified = gate.getByRole('list', { name: 'Verified rules' })
    await expect(gate).toContainText('Not all of it holds', { timeout: 300_000 })
    await expect(verified.getByRole('img', { name: 'does not hold' })).toBeVisible()
    await expect(verified).toContainText('in the page: count.js')
    plain.gate = (html) => html.replace(/<script src="http:\/\/stranger[^>]*><\/script>/, '')
    await gate.getByRole('button', { name: 'Verify again' }).click()
    await expect(gate).toContainText('All of it holds', { timeout: 300_000 })
    await gate.getByRole('button', { name: 'Count 1 draft as live' }).click()
    await expect(page.getByText('Version 1 is live with 1 rule.')).toBeVisible()
    await expect(tray).toHaveCount(0)
  } finally {
    await plain.stop()
  }
})
