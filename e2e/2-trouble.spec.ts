import { spawn } from 'node:child_process'
import { once } from 'node:events'
import { createServer } from 'node:net'
import { fileURLToPath } from 'node:url'
import { expect, test } from '@playwright/test'

test('a site that dies in mid-sweep gives failed readings with reasons, and the rest stays usable', async ({
  page,
}) => {
  const port = await freePort()
  const site = spawn(process.execPath, [fileURLToPath(new URL('../standin/dist/main.js', import.meta.url))], {
    env: { ...process.env, STANDIN_PORT: String(port), STANDIN_LOG: '' },
  })
  await once(site.stdout, 'data')
  await page.goto('/sites/new')
  await page.getByRole('textbox', { name: 'Address' }).fill(`http://fernhollow.localhost:${port}`)
  await page.getByLabel('Connector key').fill(process.env.STANDIN_KEY!)
  await page.getByLabel('The site is local').check()
  await page.getByRole('button', { name: 'Register the site' }).click()
  await page.getByRole('main').getByRole('button', { name: 'Sweep 8 pages' }).click()
  // One page at least is read before the site goes.
  await expect(page.getByRole('grid')).toBeVisible({ timeout: 300_000 })
  site.kill('SIGKILL')
  await expect(page.getByRole('button', { name: 'Sweep 8 pages' })).toBeVisible({ timeout: 300_000 })
  await expect(page.getByRole('alert')).toContainText(/readings? of 32 failed\. .*refused the connection/)
  // What was read before it died was read once, and nothing of it gave times.
  await page.getByRole('radio', { name: 'Main thread' }).click()
  await expect(page.getByText(/^(unread|not timed)$/).first()).toBeVisible()

  // The other site is untouched.
  await page.getByRole('banner').getByRole('button', { name: 'Fernhollow Arboretum' }).click()
  await page.getByRole('menuitem', { name: process.env.STANDIN_URL! }).click()
  await expect(page.getByRole('grid')).toBeVisible()
  await expect(page.getByRole('alert')).toHaveCount(0)
})

async function freePort(): Promise<number> {
  const server = createServer().listen(0, '127.0.0.1')
  await once(server, 'listening')
  const { port } = server.address() as { port: number }
  server.close()
  return port
}
