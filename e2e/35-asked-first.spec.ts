import { expect, test, type APIRequestContext } from '@playwright/test'
import { askSite } from '../testing/ask-site.js'
import { asNew, putLiveUnrehearsed, takeBack } from './places.js'

/** The largest picture of a page waits for no reason; a press has it asked for first, and the next reading finds nothing late. */
test.use({ baseURL: process.env.UNVELT_PAST_URL! })
test.describe.configure({ timeout: 480_000 })
test.beforeEach(({ request }) => asNew(request))
test.afterEach(({ request }) => asNew(request))

const SITE = '/api/sites/1'

/** Reads the page for itself, three times. @returns the sweep's number */
async function read(request: APIRequestContext, pageId: number): Promise<number> {
  const begun = await request.post(`${SITE}/sweeps`, { data: { pageIds: [pageId], repeats: 3 } })
  const { id } = (await begun.json()) as { id: number }
  await expect
    .poll(async () => (await (await request.get(`/api/sweeps/${id}`)).json()).status, { timeout: 300_000 })
    .toBe('done')
  return id
}
const tagOf = async () =>
  /<img[^>]*planting-day[^>]*>/.exec((await askSite(process.env.STANDIN_PAST_URL!, '/donate')).text)![0]

test('a picture that is in sight at once and waits all the same is asked for first', async ({ page, request }) => {
  const pages = (await (await request.get(`${SITE}/pages`)).json()) as { id: number; path: string }[]
  const { id } = pages.find(({ path }) => path === '/donate')!
  expect(await tagOf()).toContain('loading="lazy"')
  await page.goto(`/sites/1/pages/${id}?sweep=${await read(request, id)}`)
  await page.getByRole('tab', { name: 'Pictures' }).click()
  const late = page.getByRole('note', { name: 'The largest paint' })
  await expect(late).toContainText(
    /planting-day\.jpg.*asked for [\d,]+\sms after the page’s first byte.*though it is in sight/,
  )
  await late.getByRole('button', { name: 'Ask for it first' }).click()
  await expect(late.getByRole('button', { name: 'Drafted' })).toBeDisabled()
  const tray = page.getByRole('region', { name: 'Draft tray' })
  await tray.getByLabel('Pages to read before and after').selectOption('none')
  await putLiveUnrehearsed(page)
  await expect(tray).toHaveCount(0, { timeout: 300_000 })
  const tag = await tagOf()
  expect(tag).toContain('fetchpriority="high"')
  expect(tag).not.toContain('loading')
  await page.goto(`/sites/1/pages/${id}?sweep=${await read(request, id)}`)
  await page.getByRole('tab', { name: 'Pictures' }).click()
  await expect(page.getByRole('button', { name: /^Weigh its pictures/ })).toBeVisible()
  await expect(late).toHaveCount(0)
  await page.goto('/sites/1/rules')
  await expect(page.getByRole('region', { name: 'All rules' })).toContainText('asked for first')
  await takeBack(page)
  expect(await tagOf()).toContain('loading="lazy"')
})
