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
  await expect(button).toBeVisible({ timeout: 240_000 })
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
    await expect(page.getByRole('button', { name: 'Weigh them again' })).toBeVisible({ timeout: 240_000 })
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
