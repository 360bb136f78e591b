import { readFile } from 'node:fs/promises'
import { fileURLToPath } from 'node:url'
import { expect, test, type Page } from '@playwright/test'
import { unzipSync } from 'fflate'
import { plainSite } from '../testing/plain-site.js'

/** A picture that weighs too much is taken along made anew, put on the site, and the next sweep says what came of it. */
test.describe.configure({ timeout: 480_000 })

const PHOTO = fileURLToPath(new URL('../standin/media/planting-day.jpg', import.meta.url))

async function sweep(page: Page): Promise<void> {
  const button = page.getByRole('banner').getByRole('button', { name: 'Sweep 5 pages' })
  await button.click()
  await expect(page.getByRole('banner').getByRole('button', { name: 'Pause' })).toBeVisible()
  await expect(button).toBeVisible({ timeout: 300_000 })
}

test('a picture made anew is put on the site, and the next sweep says that what was said has come', async ({
  page,
}) => {
  const plain = await plainSite()
  const photo = await readFile(PHOTO)
  plain.replaced.set('/pictures/mill.jpg', photo)
  const draws = (name: string) => (html: string) =>
    html.replace('<img src="/pictures/mill.png"', `<img width="320" src="/pictures/${name}"`)
  plain.gate = draws('mill.jpg')
  try {
    const { id } = await (
      await page.request.post('/api/sites', {
        data: { address: plain.address, withoutConnector: true, local: true },
      })
    ).json()
    await page.goto(`/sites/${id}/pages?view=pictures`)
    await sweep(page)
    await page.getByRole('button', { name: 'Weigh the pictures of 5 pages' }).click()
    await expect(page.getByRole('button', { name: 'Weigh them again' })).toBeVisible({ timeout: 300_000 })
    const wasteful = page.getByRole('table', { name: 'Could weigh less' }).getByRole('row', { name: /mill\.jpg/ })
    await expect(wasteful).toBeVisible()
    await expect(page.getByRole('table', { name: 'Said and come' })).toHaveCount(0)

    const coming = page.waitForEvent('download')
    await page.getByRole('button', { name: 'Save those made anew' }).click()
    const folder = unzipSync(new Uint8Array(await readFile(await (await coming).path())))
    const [name, content] = Object.entries(folder).find(([path]) => path.includes('/mill'))!
    // As the site's editor would: the lighter file beside the other one, and its address in the pages.
    const lighter = name.split('/').at(-1)!
    plain.replaced.set(`/pictures/${lighter}`, Buffer.from(content))
    plain.gate = draws(lighter)
    await sweep(page)

    const row = page.getByRole('table', { name: 'Said and come' }).getByRole('row', { name: /mill\.jpg/ })
    await expect(row).toContainText(`now ${lighter}`)
    await expect(row).toContainText('kept')
    const { found } = await (await page.request.get(`/api/sites/${id}/promises?kind=picture`)).json()
    // On the wire both come with heads that differ by little; the bodies are those of the files, byte for byte.
    expect(Math.abs(found[0].came - (photo.length - content.length))).toBeLessThanOrEqual(16)
    await expect(wasteful).toHaveCount(0)
    await expect(page.getByText('1 picture changed since, and can be weighed again.')).toBeVisible()
  } finally {
    await plain.stop()
  }
})

/** As it was written: with long names, and a word on everything. */
const WRITTEN = Array.from(
  { length: 300 },
  (_, n) => `
/* The depth of the pond at the place of number ${n}, in centimetres, as it was measured in spring. */
function depthOfThePondAtPlace${n}(measuredInSpring) {
  var correctedByTheRain = measuredInSpring + ${(n * 7919) % 97};
  return correctedByTheRain * ${1 + (n % 3)};
}`,
).join('\n')
/** The same without what only its author needs. */
const SHORT = WRITTEN.replace(/\/\*[^]*?\*\//g, '')
  .replaceAll('measuredInSpring', 'a')
  .replaceAll('correctedByTheRain', 'b')
  .replace(/\s+/g, ' ')

test('a file that comes unpacked and as it was written is a move, and what was done of it is said', async ({
  page,
}) => {
  const plain = await plainSite()
  plain.replaced.set('/parts/heron-gallery/js/gallery.js', WRITTEN)
  try {
    const { id } = await (
      await page.request.post('/api/sites', {
        data: { address: plain.address, withoutConnector: true, local: true },
      })
    ).json()
    await page.goto(`/sites/${id}/pages?view=files`)
    await sweep(page)
    await page
      .getByRole('main')
      .getByRole('button', { name: /^Weigh / })
      .click()
    await expect(page.getByRole('button', { name: 'Weigh them again' })).toBeVisible({ timeout: 300_000 })
    const worth = page.getByRole('table', { name: 'Could weigh less' }).getByRole('row')
    // The heaviest gain stands first, by packing and by minifying beyond it.
    await expect(worth.nth(1)).toContainText('gallery.js')
    await expect(worth.nth(1)).toContainText(/−\d+(\.\d)?\sKB.*−\d+(\.\d+)?\sK?B/)
    await page.getByRole('navigation', { name: 'Places' }).getByRole('link', { name: 'Standing' }).click()
    const move = page.getByRole('listitem').filter({ hasText: 'Pack and minify files' })
    await expect(move).toBeVisible()
    await move.getByRole('link', { name: 'Look' }).click()

    // Half of it first, and then the other half.
    plain.replaced.set('/parts/heron-gallery/js/gallery.js', SHORT)
    await sweep(page)
    const came = page.getByRole('table', { name: 'Said and come' }).getByRole('row', { name: /gallery\.js/ })
    await expect(came).toContainText('in part')
    plain.packs = true
    await sweep(page)
    await expect(came).toContainText('kept')
    await page.getByRole('navigation', { name: 'Places' }).getByRole('link', { name: 'Standing' }).click()
    await expect(page.getByRole('heading', { name: 'Next moves' })).toBeVisible()
    await expect(page.getByRole('listitem').filter({ hasText: 'Pack and minify files' })).toHaveCount(0)
  } finally {
    await plain.stop()
  }
})
