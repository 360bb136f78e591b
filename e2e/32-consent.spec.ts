import { expect, test } from '@playwright/test'
import { request as ask } from 'node:http'

/** What visitors load who agree to be followed, and who is asked before anybody has agreed. */
test.use({ baseURL: process.env.UNVELT_PAST_URL! })

/** As the site's editor would. */
const atSite = (method: string, path: string, body = '') =>
  new Promise<number>((resolve, reject) => {
    const { port, host } = new URL(process.env.STANDIN_PAST_URL!)
    const headers = {
      host,
      authorization: `Bearer ${process.env.STANDIN_PAST_KEY!}`,
      'content-type': 'application/json',
    }
    ask({ host: '127.0.0.1', port, method, path: `/unvelt/v1${path}`, headers }, (answer) => {
      answer.resume()
      answer.on('end', () => resolve(answer.statusCode!))
    })
      .on('error', reject)
      .end(body)
  })

test.afterEach(async ({ request }) => {
  await atSite('DELETE', '/add-ons/hedge-notice')
  const lenses = (await (await request.get('/api/sites/1/lenses')).json()) as { id: number; consent: object | null }[]
  for (const { id, consent } of lenses) if (consent) await request.delete(`/api/sites/1/lenses/${id}`)
})

test('the banner is found and either answer tried, its cost is told, and lenses are made of it', async ({ page }) => {
  test.setTimeout(300_000)
  await page.goto('/')
  await page.getByRole('navigation', { name: 'Places' }).getByRole('link', { name: 'Outside' }).click()
  const consent = page.getByRole('region', { name: 'Consent' })
  await consent.getByLabel('Page').fill('/about')
  await consent.getByRole('button', { name: /^Look (for the banner|again)$/ }).click()
  await expect(consent).toContainText('Nothing on /about asks for consent', { timeout: 300_000 })

  expect(await atSite('POST', '/add-ons/hedge-notice/install', '{}')).toBeLessThan(300)
  await consent.getByRole('button', { name: 'Look again' }).click()
  const cost = consent.getByRole('table', { name: 'What consent costs' })
  await expect(cost.getByRole('row', { name: /^after refusing/ })).toBeVisible({ timeout: 300_000 })
  const figure = async (row: RegExp) =>
    Number((await cost.getByRole('row', { name: row }).getByRole('cell').first().textContent())!.replace(/\D/g, ''))
  const [before, agreed, refused] = [
    await figure(/^before an answer/),
    await figure(/^after agreeing – “Yes, accept all”/),
    await figure(/^after refusing – “Only the necessary ones”/),
  ]
  expect(agreed).toBeGreaterThan(before)
  expect(refused).toBe(before)
  await expect(consent.getByText(/^Asked before anybody has agreed:.*letterloft/)).toBeVisible()
  await expect(consent.getByText(/^Asked only after agreeing:.*tagbasket/)).toBeVisible()

  await consent.getByRole('button', { name: 'Make lenses of it' }).click()
  await expect(page.getByText('2 lenses made; sweeps can be made through them.')).toBeVisible()
  await expect(consent.getByRole('button', { name: 'Make lenses of it' })).toHaveCount(0)
  await page.goto('/sites/1/settings')
  const lenses = page.getByRole('region', { name: 'Lenses' })
  await expect(lenses).toContainText('has agreed to be followed')
  await expect(lenses).toContainText('has refused to be followed')
  // It is told where the site stands, and leads back.
  await page.goto('/sites/1/standing')
  await page.getByRole('link', { name: 'What consent costs' }).click()
  await expect(consent.getByRole('heading', { name: 'Consent' })).toBeInViewport()
})
