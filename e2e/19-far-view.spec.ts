import { expect, test } from '@playwright/test'

/** The whole ledger on one screen, and from there to any cell of it. */
test.use({ baseURL: process.env.UNVELT_PAST_URL! })

test('the ledger is seen as a whole, gone nearer to, and entered where something stands out', async ({ page }) => {
  await page.goto('/')
  await page.getByRole('navigation', { name: 'Places' }).getByRole('link', { name: 'Ledger' }).click()
  const close = page.getByRole('grid', { name: /^Ledger/ })
  await close.focus()
  await page.keyboard.press('v')
  const far = page.getByRole('application', { name: /^Far view of the ledger, Transfer: \d+ rows of 66 columns/ })
  await expect(far).toBeVisible()
  await expect(far).toContainText('the whole')

  // By the mouse: nearer with what is under it staying there, told, and selected.
  const picture = far.locator('canvas')
  const box = (await picture.boundingBox())!
  const point = [box.x + box.width / 2, box.y + 60] as const
  await page.mouse.move(...point)
  const told = far.getByText(/ on .+: [\d,.]+\s(B|KB|MB)/)
  const before = (await told.textContent())!
  await page.mouse.wheel(0, -300)
  await expect(far).toContainText('1.4 times')
  await page.mouse.move(point[0] + 1, point[1])
  await expect(told).toHaveText(before)
  await page.mouse.click(...point)
  // The heading says which cell it is; the rest of the text may name the same add-on as one that needs it.
  const heading = page.getByRole('complementary', { name: 'Particulars' }).getByRole('heading').first()
  await expect(heading).toContainText(before.split(' on ')[0]!)
  const clicked = (await heading.textContent())!

  // By the keyboard, and its address can be sent.
  await far.focus()
  await page.keyboard.press('0')
  await expect(far).toContainText('the whole')
  await page.keyboard.press('ArrowDown')
  await expect(heading).not.toHaveText(clicked)
  await expect(page).toHaveURL(/far=yes/)
  await page.reload()
  await expect(far).toBeVisible()
  await far.focus()
  const there = await heading.textContent()
  await page.keyboard.press('Enter')
  await expect(close).toBeVisible()
  await expect(heading).toHaveText(there!)
  await expect(page).not.toHaveURL(/far=yes/)
})
