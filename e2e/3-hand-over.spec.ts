import { readFile } from 'node:fs/promises'
import { expect, test, type Page } from '@playwright/test'
import { unzipSync, strFromU8 } from 'fflate'
import { extractText, getDocumentProxy } from 'unpdf'
import { openStandin } from './places.js'

/** What was proved is handed to a client. */

const save = async (page: Page, button: string): Promise<Uint8Array> => {
  const coming = page.waitForEvent('download', { timeout: 300_000 })
  await page.getByRole('button', { name: button, exact: true }).click()
  return new Uint8Array(await readFile(await (await coming).path()))
}

test('a proof is handed over as paper, as PDF, as a folder and as figures, and all say the same', async ({ page }) => {
  await openStandin(page)
  await page.getByRole('link', { name: 'Proof' }).click()
  await page
    .getByRole('link', { name: /Canopy Slider not run on \/events\/seed-swap/ })
    .last()
    .click()
  const requests = page.getByRole('row', { name: /^Requests / })
  const transfer = page.getByRole('row', { name: /^Transfer / })
  const shown = await Promise.all(
    [requests, transfer].map((row) =>
      row.getByRole('cell').evaluateAll((cells) => cells.slice(0, 3).map((c) => c.textContent!)),
    ),
  )
  await page.getByRole('link', { name: 'Hand it over …' }).click()
  await page.getByRole('textbox', { name: 'From' }).fill('Larkspur Workshop')
  await page.getByRole('textbox', { name: 'For' }).fill('the warden')
  const paper = page.frameLocator('iframe[title="The paper"]')
  await expect(paper.getByText('Larkspur Workshop')).toBeVisible()
  await expect(paper.getByRole('heading', { name: 'What was changed' })).toBeVisible()
  await expect(paper.getByRole('listitem').filter({ hasText: 'Canopy Slider' })).toContainText('not run by the site')
  await expect(paper.getByText(/^On Seed swap .*a visitor loads .* less, in 3 fewer requests\./)).toBeVisible()
  for (const [n, name] of ['Requests', 'Transfer'].entries())
    for (const figure of shown[n]!)
      await expect(paper.getByRole('row', { name: new RegExp(`^${name} `) })).toContainText(figure)

  const { text } = await extractText(await getDocumentProxy(await save(page, 'PDF')), { mergePages: true })
  const plain = text.replace(/\s+/g, ' ')
  for (const said of ['Larkspur Workshop', 'For the warden', 'in 3 fewer requests', 'What visitors notice'])
    expect(plain).toContain(said)
  for (const figures of shown) expect(plain).toContain(figures.join(' ').replace(/\s+/g, ' '))

  const files = unzipSync(await save(page, 'Folder'))
  const [[folder]] = [Object.keys(files).map((name) => name.split('/')[0]!)]
  const html = strFromU8(files[`${folder}/index.html`]!)
  expect(html).not.toMatch(/<script|src="http/)
  expect(html).toContain('Larkspur Workshop')
  const csv = strFromU8(files[`${folder}/figures.csv`]!)
  const proof = JSON.parse(strFromU8(files[`${folder}/proof.json`]!)) as {
    pages: { figures: Record<string, { before: number; after: number }> }[]
  }
  const { before, after } = proof.pages[0]!.figures['requests']!
  expect(csv).toContain(`Requests,requests,${before},${after},`)
  expect(before - after).toBe(3)
  expect(strFromU8(await save(page, 'CSV'))).toBe(csv)

  // Its own address opens it again, with the letterhead that was used last.
  await page.reload()
  await expect(page.getByRole('textbox', { name: 'From' })).toHaveValue('Larkspur Workshop')
})
