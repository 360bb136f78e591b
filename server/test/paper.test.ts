import 'reflect-metadata'
import type { Sequelize } from 'sequelize'
import { connect } from '../src/database/connect.js'
import { PaperRow } from '../src/paper/paper.model.js'
import { printJob } from '../src/paper/print-job.js'
import { appForTest, KEY } from './app-for-test.js'
import { launchBrowser } from '../src/browser/browser.js'
import { Browsers } from '../src/browser/browsers.js'
import { aHold, workerTools } from './worker-tools.js'
import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'

/** Documents become PDF, and what is in them asks nobody for anything. */
let t: Awaited<ReturnType<typeof appForTest>>
let db: Sequelize
let site: string
let asked = 0
let other: Server
const browsers = new Browsers(() => launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium'))
beforeAll(async () => {
  t = await appForTest()
  db = await connect(t.databaseUrl)
  const { body } = await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })
  site = `/sites/${body.id}`
  other = createServer((_request, response) => {
    asked += 1
    response.end()
  })
  await new Promise<void>((resolve) => other.listen(0, '127.0.0.1', resolve))
})
afterAll(async () => {
  await browsers.close()
  await db?.close()
  await t?.stop()
  other?.close()
})

const job = () => printJob(workerTools(db, { browsers }))
const fetchPdf = async (id: number) => fetch(`${await t.app.getUrl()}/api/papers/${id}/pdf`)

it('is printed, runs nothing and asks nobody', async () => {
  const outside = `http://127.0.0.1:${(other.address() as AddressInfo).port}`
  const html = `<!doctype html><title>T</title><p>Oaks</p><img src="${outside}/a.png"><script>document.body.textContent='run'</script>
    <style>@import url("${outside}/b.css")</style><iframe src="${outside}/c"></iframe>`
  const { status, body } = await t.call('POST', `${site}/papers`, { title: 'proof-1', html })
  expect(status).toBe(202)
  expect(body).toMatchObject({ state: 'printing', why: null })
  expect((await fetchPdf(body.id)).status).toBe(404)
  // No worker runs here, and whoever waits is told.
  expect((await t.call('GET', `/papers/${body.id}`)).body).toMatchObject({
    state: 'printing',
    why: expect.stringContaining('No worker is running'),
  })
  expect(await job().unfinished()).toEqual([{ data: { id: body.id } }])
  await job().run({ id: body.id }, aHold)
  expect((await t.call('GET', `/papers/${body.id}`)).body).toMatchObject({ state: 'done' })
  const pdf = await fetchPdf(body.id)
  expect(pdf.headers.get('content-disposition')).toContain('proof-1.pdf')
  expect(
    Buffer.from(await pdf.arrayBuffer())
      .subarray(0, 5)
      .toString(),
  ).toBe('%PDF-')
  expect(asked).toBe(0)
  // Whoever was killed behind the printing finds it done.
  await job().run({ id: body.id }, aHold)
})

it('what comes to nothing says why, and only the newest ten are kept', async () => {
  const { body } = await t.call('POST', `${site}/papers`, { title: 'x', html: '<p>x' })
  await job().giveUp({ id: body.id }, 'The printer is out of ink.')
  expect((await t.call('GET', `/papers/${body.id}`)).body).toMatchObject({
    state: 'failed',
    why: 'The printer is out of ink.',
  })
  for (let n = 0; n < 12; n++) await t.call('POST', `${site}/papers`, { title: 'x', html: '<p>x' })
  expect(await PaperRow.count()).toBe(10)
  expect((await t.call('GET', `/papers/${body.id}`)).status).toBe(404)
  expect((await t.call('POST', `${site}/papers`, { title: '', html: '' })).status).toBe(422)
})
