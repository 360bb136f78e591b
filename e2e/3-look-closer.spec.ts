import { expect, test } from '@playwright/test'
import { openPage, openStandin } from './places.js'

/** What a sweep knows beyond the ledger: where a page's time goes, on the server and in the browser, and who is outside. */
test.describe.configure({ mode: 'serial' })

test('the parts of the wait add up, and the server’s part is told step by step and query by query', async ({
  page,
}) => {
  await openPage(page, 'About the arboretum')
  const wait = page.getByRole('region', { name: 'Whom one waits for' })
  await expect(wait.getByText('Add-ons on the server')).toBeVisible()
  const shares = await wait.getByText(/^\d+(\.\d)?\s%$/).allTextContents()
  expect(shares).toHaveLength(5)
  expect(shares.reduce((sum, share) => sum + Number.parseFloat(share), 0)).toBeCloseTo(100, -0.5)

  await page.getByRole('tab', { name: 'On the server' }).click()
  await expect(page.getByText(/^The page’s header and these spans tell /)).toBeVisible()
  const menu = page.getByRole('table', { name: 'Server steps' }).getByRole('row').filter({ hasText: 'Bramble Menu' })
  await expect(menu.first()).toContainText('200')
  const statement = page
    .getByRole('table', { name: 'Queries' })
    .getByRole('row')
    .filter({ hasText: 'select parent from bramble_entries' })
  await expect(statement).toContainText('100')
  // The view stands in the address, so it can be sent to somebody.
  await page.reload()
  await expect(page.getByRole('table', { name: 'Server steps' })).toBeVisible()
})

test('the file with the most idle bytes is found on a page, and the typefaces that it does not draw', async ({
  page,
}) => {
  await openPage(page, 'About the arboretum')
  await page.getByRole('tab', { name: 'Files' }).click()
  const first = page.getByRole('table', { name: 'Files' }).getByRole('row').nth(1)
  await expect(first).toContainText('field-map.js')
  await expect(first).toContainText(/7\d\s%/)
  await page.getByRole('tab', { name: 'Typefaces' }).click()
  await expect(page.getByText('8 typefaces declared')).toBeVisible()
  await expect(page.getByRole('listitem').filter({ hasText: 'not drawn' }).first()).toBeVisible()
})

test('what one tag brings in stands below it, with its redirects', async ({ page }) => {
  await openStandin(page)
  await page.getByRole('link', { name: 'Outside' }).click()
  const table = page.getByRole('table', { name: 'Payers and their hosts' })
  for (const host of ['footpath', 'adlattice', 'hallodesk', 'warmtrail']) {
    const row = table.getByRole('row').filter({ has: page.getByText(new RegExp(`^${host}\\.localhost:\\d+$`)) })
    await expect(row).toContainText('by a script of tagbasket.localhost')
  }
  await expect(table.getByText('files.fernhollow.localhost')).toHaveCount(0)
  await expect(page.getByRole('listitem').filter({ hasText: '/hop/1' })).toContainText('/pixel.gif')
})

test('a site is swept through another lens, and its figures stand beside the first ones', async ({ page }) => {
  test.setTimeout(480_000)
  await openStandin(page)
  await page.getByRole('link', { name: 'Settings' }).click()
  await page.getByRole('button', { name: 'Add a lens' }).click()
  const form = page.getByRole('form', { name: 'A new lens' })
  await form.getByRole('button', { name: 'Add the lens' }).click()
  await expect(form.getByRole('alert')).toHaveText('Give the lens a name.')
  await form.getByLabel('Name').fill('Tablet, second view')
  await form.getByLabel('Width, px').fill('820')
  await form.getByLabel('Cache').selectOption('warm')
  await form.getByRole('button', { name: 'Add the lens' }).click()
  await expect(
    page.getByRole('region', { name: 'Lenses' }).getByRole('listitem').filter({ hasText: 'Tablet, second view' }),
  ).toContainText('desk 820 × 800, network as it is, second view')

  await page.getByRole('link', { name: 'Ledger' }).click()
  // The last of the three events; the margin's cells stand in the order of the pages.
  const total = () =>
    page
      .getByRole('row')
      .filter({ has: page.getByRole('rowheader', { name: 'Page', exact: true }) })
      .locator('[aria-colindex="10"] data')
  await page.getByRole('radio', { name: 'Requests' }).click()
  const first = Number(await total().getAttribute('value'))
  await page.getByRole('button', { name: 'Set up a sweep' }).click()
  await page.getByRole('checkbox', { name: /Desk, wired, signed out, cold/ }).uncheck()
  await expect(page.getByRole('button', { name: 'Start the sweep' })).toBeDisabled()
  await page.getByRole('checkbox', { name: /Tablet, second view/ }).check()
  await page.getByRole('radio', { name: 'By kind' }).click()
  await page.getByRole('checkbox', { name: /^event/ }).setChecked(true)
  await page.getByRole('checkbox', { name: /^page/ }).setChecked(false)
  await page.getByRole('spinbutton', { name: /Read each page/ }).fill('1')
  await page.getByRole('button', { name: 'Start the sweep' }).click()
  await expect(page.getByRole('progressbar')).toBeVisible()
  await expect(page.getByRole('progressbar')).toHaveCount(0, { timeout: 300_000 })

  await expect(page.getByText(/^Sweep \d+ has ended: \d+ pages?, \d+ readings?\.$/)).toBeVisible()
  // The ledger goes on showing the first lens until it is told otherwise.
  await expect(page.getByRole('button', { name: 'Sweep and lens shown' })).toContainText(
    'Desk, wired, signed out, cold cache',
  )
  await page.getByRole('button', { name: 'Sweep and lens shown' }).click()
  await page.getByRole('menuitemradio', { name: /Tablet, second view/ }).click()
  await expect(page.getByRole('button', { name: 'Sweep and lens shown' })).toContainText(
    'Tablet, second view · 1 repeat',
  )
  await expect.poll(async () => Number(await total().getAttribute('value'))).toBeLessThan(first / 2)

  // What came from the browser's cache is told apart on the page's sheet, whose figures are the ledger's.
  const [, site, sweep] = /sites\/(\d+).*sweep=(\d+)/.exec(page.url())!
  const pages = (await (await page.request.get(`/api/sites/${site}/pages`)).json()) as { id: number; kind: string }[]
  const went: number[] = []
  for (const { id } of pages.filter(({ kind }) => kind === 'event')) {
    await page.goto(`/sites/${site}/pages/${id}?sweep=${sweep}`)
    const figure = async (name: string) =>
      Number(
        await page
          .locator('dl > div')
          .filter({ has: page.getByText(name, { exact: true }) })
          .locator('dd')
          .textContent(),
      )
    await expect(page.getByText('From its cache', { exact: true })).toBeVisible()
    went.push(await figure('Requests'))
    expect(await figure('From its cache')).toBeGreaterThan(went.at(-1)!)
  }
  await page.goto(`/sites/${site}/ledger?measure=requests&sweep=${sweep}`)
  await expect.poll(async () => went.includes(Number(await total().getAttribute('value')))).toBe(true)
  await page.getByRole('link', { name: 'Settings' }).click()
  await expect(
    page
      .getByRole('region', { name: 'Lenses' })
      .getByRole('listitem')
      .filter({ hasText: 'Tablet, second view' })
      .getByRole('button', { name: 'Remove' }),
  ).toBeDisabled()
})

test('a lens signs in by the site’s own form, which is found and tried before it is relied on', async ({ page }) => {
  await openStandin(page)
  await page.getByRole('link', { name: 'Settings' }).click()
  await page.getByRole('button', { name: 'Add a lens' }).click()
  const form = page.getByRole('form', { name: 'A new lens' })
  await form.getByLabel('Name').fill('A member, abroad')
  await form.getByLabel('Network').selectOption({ label: 'Figures of your own' })
  await form.getByLabel('Latency').fill('220')
  await form.getByLabel('Visitor').selectOption({ label: 'Signed in by the site’s form' })
  await form.getByRole('textbox', { name: 'As', exact: true }).fill('member')

  const signingIn = form.getByRole('group', { name: 'Signing in' })
  await signingIn.getByLabel('The page with the sign-in form').fill('/about')
  await signingIn.getByRole('button', { name: 'Look for its form' }).click()
  await expect(signingIn.getByRole('alert')).toContainText('without a form that asks for one password')
  await signingIn.getByLabel('The page with the sign-in form').fill('/sign-in')
  await signingIn.getByRole('button', { name: 'Look for its form' }).click()
  await signingIn.getByLabel('Name').fill('member')
  await signingIn.getByLabel('Word').fill('no such word')
  await signingIn.getByRole('button', { name: 'Try to sign in' }).click()
  await expect(signingIn.getByRole('status')).toContainText('Signing in failed')
  await signingIn.getByLabel('Word').fill('hazel-walk')
  await signingIn.getByRole('button', { name: 'Try to sign in' }).click()
  await expect(signingIn.getByRole('status')).toHaveText('The site signed the visitor in, with the cookie loam.')

  await form.getByRole('button', { name: 'Add the lens' }).click()
  const added = page
    .getByRole('region', { name: 'Lenses' })
    .getByRole('listitem')
    .filter({ hasText: 'A member, abroad' })
  await expect(added).toContainText('220 ms and 9 Mbit/s, signed in as member')

  await added.getByRole('button', { name: 'Remove' }).click()
  await expect(added).toHaveCount(0)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(added).toContainText('signed in as member')
})
