import { AxeBuilder } from '@axe-core/playwright'
import { expect, test } from '@playwright/test'

/** A telephone's width: every place is there, nothing is cut off, and all of it can be reached. */
test.use({ baseURL: process.env.UNVELT_PAST_URL!, viewport: { width: 390, height: 800 } })

const PLACES = [
  'standing',
  'ledger',
  'ledger?far=yes',
  'add-ons',
  'add-ons/pass-it-on',
  'pages',
  'pages/1',
  'pages/32?view=console',
  'outside',
  'rules',
  'weigh-ins',
  'weigh-ins/new',
  'retirements',
  'proof',
  'proof/two-sweeps',
  'settings',
]

for (const place of PLACES)
  test(`${place} fits on a narrow screen`, async ({ page }) => {
    await page.goto(`/sites/1/${place}`)
    await expect(page.getByRole('heading', { level: 1 }).first()).toBeAttached()
    await expect(page.getByRole('main').getByText(/^Loading|^Reading what/)).toHaveCount(0)
    // What lies beyond the edge can't be reached, unless something scrolls there.
    const lost = await page.evaluate(() =>
      [...document.querySelectorAll('button, a, input, select, [role=tab]')].flatMap((element) => {
        const { right, width } = element.getBoundingClientRect()
        if (width === 0 || right <= innerWidth + 1) return []
        for (let around = element.parentElement; around; around = around.parentElement) {
          const style = getComputedStyle(around)
          if (['auto', 'scroll'].includes(style.overflowX) && around.scrollWidth > around.clientWidth) return []
        }
        return [element.outerHTML.slice(0, 120)]
      }),
    )
    expect(lost).toEqual([])
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390)
    const { violations } = await new AxeBuilder({ page }).analyze()
    expect(violations.map(({ id, nodes }) => `${id}: ${nodes[0]!.html.slice(0, 160)}`)).toEqual([])
  })
