import { AxeBuilder } from '@axe-core/playwright'
import { expect, test } from '@playwright/test'
import { plainSite } from '../testing/plain-site.js'
import { safeFront } from '../testing/safe-front.js'
import { forgetSites } from './places.js'

const HOST = 'mill-copy.unvelt.test'

test('a copy that no DNS knows of, with a certificate of its own making, is read, named and held against the site', async ({
  page,
}) => {
  test.setTimeout(300_000)
  if (test.info().retry > 0) await forgetSites(page.request, /mill-copy|plain\.localhost/)
  const live = await plainSite()
  const copy = await safeFront(live.address, HOST)
  const register = page.getByRole('button', { name: 'Register the site', exact: true })
  const begin = async (address: string) => {
    await page.goto('/sites/new')
    await page.getByRole('textbox', { name: 'Address' }).fill(address)
    await page.getByLabel('The site is local').check()
    await page.getByLabel('The site has no connector').check()
  }
  const sweep = async () => {
    await page
      .getByRole('main')
      .getByRole('button', { name: /^Sweep \d+ pages$/ })
      .click()
    const strip = page.getByRole('banner')
    await expect(strip.getByRole('button', { name: 'Pause' })).toBeVisible()
    await expect(strip.getByRole('button', { name: /^Sweep \d+ pages$/ })).toBeVisible({ timeout: 300_000 })
    await expect(page.getByRole('rowheader', { name: 'stranger.localhost' })).toBeVisible()
  }
  const isSound = async () => {
    const { violations } = await new AxeBuilder({ page }).analyze()
    expect(violations.map(({ id, nodes }) => `${id} ${nodes[0]!.html.slice(0, 200)}`)).toEqual([])
  }
  try {
    await begin(live.address)
    await register.click()
    await expect(page).toHaveURL(/ledger/)
    await sweep()
    const original = /sites\/(\d+)/.exec(page.url())![1]!

    await begin(`https://${HOST}:${copy.port}`)
    await register.click()
    await expect(page.getByRole('alert')).toContainText(`The name ${HOST} does not resolve`)
    await page.getByLabel('Its name leads elsewhere than DNS says').check()
    const names = page.getByRole('textbox', { name: 'Names' })
    await names.fill(HOST)
    await expect(page.getByText('Line 1: expected an IP address first')).toBeVisible()
    await names.fill(`127.0.0.1 ${HOST} # the mill's copy`)
    await register.click()
    const certificate = page.getByRole('alert', { name: 'Its certificate' })
    await expect(certificate).toContainText('Nobody but itself vouches for it.')
    await expect(certificate).toContainText(/(?:[0-9A-F]{2}:){31}[0-9A-F]{2}/)
    await isSound()
    await certificate.getByRole('button', { name: 'Take it and register the site' }).click()
    await expect(page).toHaveURL(/ledger/)
    await expect(page.getByRole('banner')).toContainText('own certificate, names mapped')
    await sweep()

    const site = /sites\/(\d+)/.exec(page.url())![1]!
    await page.goto(`/sites/${site}/settings`)
    const copies = page.getByRole('region', { name: 'Copies' })
    await copies.getByLabel('What this site is').selectOption(original)
    await expect(page.getByRole('banner')).toContainText('copy, own certificate')
    await isSound()
    // It is replaced at the site, and looked at once more.
    await copy.renew()
    await copies.getByRole('button', { name: 'What it shows now' }).click()
    await expect(copies).toContainText('another certificate than the one that is taken')
    await copies.getByRole('button', { name: 'Take it for this site' }).click()
    await copies.getByRole('button', { name: 'What it shows now' }).click()
    await expect(copies).toContainText('The site shows the certificate that is taken.')

    await copies.getByRole('link', { name: /^Side by side with plain\.localhost/ }).click()
    const mean = page.getByRole('table', { name: 'The mean page' })
    await expect(mean.getByRole('row', { name: /^Requests/ })).toContainText('none')
    // Packed, the copy's pages weigh less.
    await expect(mean.getByRole('row', { name: /^Transfer/ })).toContainText('−')
    await page.goto(`/sites/${site}/rules`)
    await expect(page.getByLabel('Copy the rules of another site')).toContainText('its original, plain.localhost')
  } finally {
    await copy.stop()
    await live.stop()
  }
})
