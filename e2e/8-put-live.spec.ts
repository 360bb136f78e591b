import { request, type IncomingMessage } from 'node:http'
import { expect, test, type Page } from '@playwright/test'
import { asNew, putLiveUnrehearsed, takeBack } from './places.js'

/** Rules of every level of place go live on the whole site and come back, pages that only some may see among them. */
test.use({ baseURL: process.env.UNVELT_PAST_URL! })
test.describe.configure({ mode: 'serial' })
test.beforeEach(({ request }) => asNew(request))

const place = (page: Page, name: string) => page.getByRole('navigation', { name: 'Places' }).getByRole('link', { name })
const siteOf = (page: Page) => /sites\/(\d+)/.exec(page.url())![1]!

async function putLive(page: Page): Promise<void> {
  const tray = page.getByRole('region', { name: 'Draft tray' })
  await tray.getByLabel('Pages to read before and after').selectOption('none')
  await putLiveUnrehearsed(page)
  await expect(tray).toHaveCount(0, { timeout: 300_000 })
}

const NARROW: [addon: string, where: object, words: string][] = [
  ['field-map', { level: 'page', path: '/about' }, 'on /about'],
  ['river-level', { level: 'set', paths: ['/about', '/contact', '/members'] }, 'on 3 pages'],
  ['picture-wall', { level: 'path', pattern: '/articles/*' }, 'on addresses like /articles/*'],
  ['reel-frames', { level: 'kind', kind: 'event' }, 'on every page of kind event'],
  ['sky-reports', { level: 'area', area: 'office' }, 'in the back office'],
]
/** That of an area is the demo's own first move. */
const WIDE: typeof NARROW = [['field-map', { level: 'everywhere' }, 'everywhere']]

for (const [what, levels] of [
  ['rules of every narrow level go', NARROW],
  ['a rule for everywhere goes', WIDE],
] as const)
  test(`${what} live and come back`, async ({ page }) => {
    await page.goto('/')
    await expect(place(page, 'Rules')).toBeVisible()
    const rules = levels.map(([addon, where]) => ({ addon, effect: 'skip', place: where }))
    const drafted = await page.request.post(`/api/sites/${siteOf(page)}/drafts`, { data: { rules } })
    expect(drafted.ok()).toBe(true)
    await place(page, 'Rules').click()
    await expect(page.getByRole('heading', { name: 'Rules', level: 1 })).toBeVisible()
    await page.reload()
    await putLive(page)
    for (const [, , words] of levels)
      await expect(page.getByRole('table', { name: 'Rules' }).getByRole('row', { name: words })).toBeVisible()
    await takeBack(page)
    await expect(page.getByText('No rule is live, and none is drafted.')).toBeVisible()
    const changes = page.getByRole('list', { name: 'Changes of the live rules' }).getByRole('listitem')
    await expect(changes.first()).toContainText('live as version')
  })

test('the demo’s own first move goes live, and what could not be checked is said', async ({ page }) => {
  await page.goto('/')
  await page.getByRole('button', { name: 'Draft it' }).first().click()
  await expect(page.getByRole('region', { name: 'Draft tray' })).toBeVisible()
  await place(page, 'Rules').click()
  await putLive(page)
  const changes = page.getByRole('list', { name: 'Changes of the live rules' })
  await changes.getByRole('listitem').first().click()
  await expect(changes).toContainText(/Visitors get version \d+ on/)
  await expect(changes).toContainText('/members')
  await takeBack(page)
  await expect(page.getByText('No rule is live, and none is drafted.')).toBeVisible()
})

test('rules that somebody else changed at the site are compared, and adopted or put back', async ({ page }) => {
  await page.goto('/')
  await expect(place(page, 'Rules')).toBeVisible()
  const { onlyAtSite } = await (await page.request.get(`/api/sites/${siteOf(page)}/rules/at-site`)).json()
  expect(onlyAtSite).toEqual([])
  await somebodyElsePuts([
    { id: 'theirs', addon: 'pass-it-on', effect: 'leave-out', place: { level: 'kind', kind: 'event' } },
  ])
  await place(page, 'Rules').click()
  const notice = page.getByRole('region', { name: 'Other rules at the site' })
  await expect(notice).toContainText('Pass It On files left out on every page of kind event')
  await notice.getByRole('button', { name: 'Adopt the site’s' }).click()
  await expect(notice).toHaveCount(0)
  await expect(page.getByRole('table', { name: 'Rules' })).toContainText('Pass It On')

  await somebodyElsePuts([])
  await page.reload()
  await notice.getByRole('button', { name: /^Put version/ }).click()
  await expect(page.getByRole('list', { name: 'Changes of the live rules' })).toContainText('put back over the site’s')
  await expect(page.getByRole('table', { name: 'Rules' })).toContainText('Pass It On')
  await expect(notice).toHaveCount(0)
})

/** Puts rules at the site by another hand than Unvelt's. Node does not resolve the site's name, so it is given as `Host`. */
async function somebodyElsePuts(rules: object[]): Promise<void> {
  const { host, port } = new URL(process.env.STANDIN_PAST_URL!)
  const ask = (method: string, headers: object, body?: string) =>
    new Promise<IncomingMessage>((resolve, reject) => {
      const call = request(
        {
          host: '127.0.0.1',
          port,
          path: '/unvelt/v1/rules',
          method,
          headers: { host, authorization: `Bearer ${process.env.STANDIN_PAST_KEY!}`, ...headers },
        },
        (response) => resolve(response.resume()),
      )
      call.on('error', reject)
      call.end(body)
    })
  const { headers } = await ask('GET', {})
  const body = JSON.stringify({ format: 'unvelt-rules/1', rules })
  const put = await ask('PUT', { 'content-type': 'application/json', 'if-match': headers.etag! }, body)
  expect(put.statusCode).toBe(200)
}
