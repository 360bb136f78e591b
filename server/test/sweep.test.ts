import { QueryTypes, Sequelize } from 'sequelize'
import { attribute, type Reading } from '@unvelt/core'
import { isRead, storeFailure, storeReading, storeTolls } from '../src/reading/reading-store.js'
import { SweepRow } from '../src/sweep/sweep.model.js'
import { ledgerCells } from './ledger-cells.js'
import { appForTest, KEY } from './app-for-test.js'
import { reading, record } from '../../core/test/reading-arbitrary.js'

let t: Awaited<ReturnType<typeof appForTest>>
let site: string
let pages: { id: number; path: string }[]

beforeAll(async () => {
  t = await appForTest()
  const { body } = await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })
  site = `/sites/${body.id}`
  pages = (await t.call('GET', `${site}/pages`)).body
})
afterAll(() => t?.stop())

const sequelize = () => t.app.get(Sequelize)
const cancelAll = async () => {
  for (const sweep of (await t.call('GET', `${site}/sweeps`)).body) await t.call('POST', `/sweeps/${sweep.id}/cancel`)
}
afterEach(cancelAll)

describe('a sweep', () => {
  it('reads all pages or the ones asked for, one sweep at a time', async () => {
    const all = await t.call('POST', `${site}/sweeps`, {})
    expect(all).toMatchObject({
      status: 201,
      body: { status: 'running', pages: 8, repeats: 4, readingsPlanned: 32, atPages: [] },
    })
    expect((await t.call('POST', `${site}/sweeps`, {})).status).toBe(409)
    expect((await t.call('POST', `/sweeps/${all.body.id}/cancel`)).body).toMatchObject({
      status: 'cancelled',
      finishedAt: expect.any(String),
    })
    const one = await t.call('POST', `${site}/sweeps`, { pageIds: [pages[2]!.id], repeats: 5 })
    expect(one.body).toMatchObject({ pages: 1, readingsPlanned: 5 })
  })

  it('reads what somebody looks at before all that waits, once and then to its end like the others', async () => {
    const { body: sweep } = await t.call('POST', `${site}/sweeps`, { repeats: 2 })
    const order = async () => {
      const jobs = await sequelize().query<{ page: number }>(
        `select (data ->> 'pageId')::int page from pgboss.job
         where name = 'read-page' and (data ->> 'sweepId')::int = ${sweep.id} order by priority desc, created_on`,
        { type: QueryTypes.SELECT },
      )
      return jobs.map(({ page }) => pages.findIndex(({ id }) => id === page))
    }
    const all = [0, 1, 2, 3, 4, 5, 6, 7]
    expect(await order()).toEqual([...all, ...all])
    const next = `/sweeps/${sweep.id}/next`
    expect((await t.call('POST', next, { pageIds: [pages[5]!.id, pages[7]!.id, 999_999] })).body).toEqual({ pages: 2 })
    expect((await order()).slice(0, 5)).toEqual([5, 7, 5, 7, 0])
    expect((await t.call('POST', next, { pageIds: [999_999] })).status).toBe(409)
    expect((await t.call('POST', next, { pageIds: [] })).status).toBe(422)
    await t.call('POST', `/sweeps/${sweep.id}/cancel`)
    expect((await t.call('POST', next, { pageIds: [pages[5]!.id] })).status).toBe(409)
  })

  it('refuses what makes no sense', async () => {
    expect((await t.call('POST', `${site}/sweeps`, { repeats: 0 })).status).toBe(422)
    expect((await t.call('POST', `${site}/sweeps`, { pageIds: [] })).status).toBe(422)
    expect((await t.call('POST', `${site}/sweeps`, { pageIds: [999999] })).status).toBe(422)
    expect((await t.call('POST', `/sweeps/999999/cancel`)).status).toBe(404)
  })

  it('tells the time left by its pace, though the first readings come all at once', async () => {
    const { body } = await t.call('POST', `${site}/sweeps`, {})
    const left = async () => (await t.call('GET', `/sweeps/${body.id}`)).body.secondsLeft
    expect(await left()).toBeNull()
    for (const { id: pageId } of pages.slice(0, 3))
      await storeFailure({ sweepId: body.id, pageId, variant: 'live', repeat: 1 }, 'as it was told')
    await sequelize().query(
      `update reading set read_at = started_at + interval '30 seconds' from sweep
       where sweep.id = sweep_id and sweep_id = ${body.id}`,
    )
    // 29 of 32 are left, at ten seconds each.
    expect(await left()).toBe(290)
    // A pause says nothing of the pace.
    await sequelize().query(
      `update reading set read_at = read_at + interval '1 hour' where sweep_id = ${body.id} and page_id = ${pages[2]!.id}`,
    )
    expect(await left()).toBe(435)
    await sequelize().query(`update sweep set status = 'done' where id = ${body.id}`)
    const next = async () => (await t.call('POST', `${site}/sweeps/preview`, {})).body[0]
    // All of it failed, and nothing was told of how long a reading takes.
    expect(await next()).toMatchObject({ pages: 8, secondsEach: null })
    const { sources, siteId } = (await SweepRow.findByPk(body.id))!
    const read = { sweepId: body.id, pageId: pages[3]!.id, variant: 'live', repeat: 1 }
    await storeReading(read, reading([record('page', { type: 'document' })]), sources)
    await storeTolls(sequelize(), siteId, read, sources)
    await sequelize().query(
      `update reading set read_at = started_at + interval '60 seconds' from sweep
       where sweep.id = sweep_id and sweep_id = ${body.id} and page_id = ${read.pageId}`,
    )
    // Thirty seconds to the first two, thirty more to this one; the hour before the last is a pause.
    expect(await next()).toMatchObject({ pages: 8, secondsEach: 20 })
    await sequelize().query(`delete from sweep where id = ${body.id}`)
  })

  it('is paused and goes on with the pages that wait, once', async () => {
    const { body } = await t.call('POST', `${site}/sweeps`, { repeats: 1 })
    expect((await t.call('POST', `/sweeps/${body.id}/pause`)).body).toMatchObject({ status: 'paused' })
    expect((await t.call('POST', `/sweeps/${body.id}/pause`)).status).toBe(409)
    await sequelize().query(
      `update sweep_page set state = 'done' where sweep_id = ${body.id} and page_id = ${pages[0]!.id}`,
    )
    await sequelize().query('delete from pgboss.job')
    expect((await t.call('POST', `/sweeps/${body.id}/resume`)).body).toMatchObject({ status: 'running', pagesDone: 1 })
    const [jobs] = await sequelize().query(`select data from pgboss.job where name = 'read-page'`)
    expect(jobs).toHaveLength(7)
    expect((await t.call('POST', `/sweeps/${body.id}/resume`)).status).toBe(409)
  })

  it('reads again only what failed', async () => {
    const { body } = await t.call('POST', `${site}/sweeps`, { repeats: 1 })
    const [good, bad] = pages
    const place = (page: { id: number }) => ({ sweepId: body.id, pageId: page.id, variant: 'live', repeat: 1 })
    const { sources } = (await SweepRow.findByPk(body.id))!
    await storeReading(place(good!), reading([record('page', { type: 'document' })]), sources)
    await storeFailure(place(bad!), 'The site refused the connection.')
    expect((await t.call('POST', `/sweeps/${body.id}/reread`)).status).toBe(409)
    await sequelize().query(`update sweep_page set state = 'done' where sweep_id = ${body.id}`)
    await sequelize().query(`update sweep set status = 'done' where id = ${body.id}`)
    await sequelize().query('delete from pgboss.job')
    const again = await t.call('POST', `/sweeps/${body.id}/reread`)
    expect(again.body).toMatchObject({ status: 'running', readings: 1, readingsFailed: 0, failures: [] })
    const [jobs] = await sequelize().query(`select data from pgboss.job where name = 'read-page'`)
    expect(jobs).toEqual([{ data: { sweepId: body.id, pageId: bad!.id } }])
    expect(await isRead(place(good!))).toBe(true)
  })

  it('of a few pages does not take the place of one of the site in the ledger', async () => {
    const ended = async (count: number, minutesAgo: number) => {
      const pageIds = pages.slice(0, count).map(({ id }) => id)
      const { body } = await t.call('POST', `${site}/sweeps`, { pageIds, repeats: 1 })
      const { sources, siteId } = (await SweepRow.findByPk(body.id))!
      const place = { sweepId: body.id, pageId: pageIds[0]!, variant: 'live', repeat: 1 }
      await storeReading(place, reading([record('page', { type: 'document' })]), sources)
      await storeTolls(sequelize(), siteId, place, sources)
      await sequelize().query(
        `update sweep set status = 'done', started_at = now() - interval '${minutesAgo} minutes' where id = ${body.id}`,
      )
      return body.id as number
    }
    const shown = async () => (await t.call('GET', `${site}/ledger`)).body.sweep.id
    const single = await ended(1, 30)
    expect(await shown()).toBe(single)
    const whole = await ended(8, 20)
    expect(await shown()).toBe(whole)
    const few = await ended(3, 10)
    expect(await shown()).toBe(whole)
    expect((await t.call('GET', `${site}/ledger?sweep=${few}`)).body.sweep.id).toBe(few)
    const half = await ended(4, 5)
    expect(await shown()).toBe(half)
    await sequelize().query(`delete from sweep where id in (${[single, whole, few, half].join()})`)
  })

  it('is told to whoever follows the site', async () => {
    const response = await fetch(`${await t.app.getUrl()}/api${site}/events`)
    const chunks = response.body!.pipeThrough(new TextDecoderStream()).getReader()
    const { body } = await t.call('POST', `${site}/sweeps`, {})
    let heard = ''
    while (!heard.includes(`"id":${body.id}`)) heard += (await chunks.read()).value
    await chunks.cancel()
    expect(heard).toContain('event: sweep')
  })
})

describe('readings', () => {
  const page = (bytes: number, form: number): Reading =>
    reading(
      [
        record('p', { url: `${t.standin.address}/about`, type: 'document', transferBytes: bytes, decodedBytes: bytes }),
        record('f', {
          url: `${t.standin.address}/add-ons/enquiry-form/enquiry-form.js`,
          transferBytes: form,
          decodedBytes: form,
        }),
        record('o', { url: 'http://cdn.stranger.test/x.js', transferBytes: 10, decodedBytes: 20 }),
      ],
      {
        serverTiming: [
          { name: 'total', duration: 50, description: '' },
          { name: 'addon.enquiry-form', duration: 12.5, description: '' },
          { name: 'addon.enquiry-form.db', duration: 9, description: '3' },
        ],
      },
    )

  it('are stored once, and their tolls stand in the ledger with margins that agree', async () => {
    const { body: sweep } = await t.call('POST', `${site}/sweeps`, { pageIds: [pages[3]!.id] })
    const { sources, siteId } = (await SweepRow.findByPk(sweep.id))!
    const at = (repeat: number) => ({ sweepId: sweep.id as number, pageId: pages[3]!.id, variant: 'live', repeat })
    await storeReading(at(1), page(1000, 400), sources)
    await storeReading(at(1), page(9999, 9999), sources)
    await storeReading(at(2), page(1200, 300), sources)
    await storeFailure(at(3), 'The page answered 500.')
    expect(await isRead(at(3))).toBe(true)
    expect(await storeTolls(sequelize(), siteId, at(1), sources)).toBe(true)

    const { body: ledger } = await t.call('GET', `${site}/ledger?sweep=${sweep.id}`)
    const { sum, cell } = await ledgerCells(t, site, ledger)
    // Of two repeats the lower median is shown: 1410 of 1410 and 1510 bytes.
    expect([sum('requests'), sum('transferBytes'), sum('serverMs')]).toEqual([3, 1410, 50])
    expect([cell('enquiry-form', 'transferBytes'), cell('enquiry-form', 'queries'), cell('rest', 'serverMs')]).toEqual([
      400, 3, 37.5,
    ])
    expect(ledger.unreadPages).toHaveLength(7)
    expect(ledger.sweep).toMatchObject({
      readings: 3,
      readingsFailed: 1,
      failures: [{ reason: 'The page answered 500.', paths: ['/about'] }],
    })

    const { body: addOns } = await t.call('GET', `${site}/add-ons`)
    expect(addOns).toContainEqual(expect.objectContaining({ slug: 'outside:stranger.test', source: 'reading' }))

    const { body: sheet } = await t.call('GET', `${site}/pages/${pages[3]!.id}?sweep=${sweep.id}`)
    expect(sheet).toMatchObject({ repeats: 2, failedRepeats: 1 })
    expect(sheet.requests.map((r: { payer: string }) => r.payer)).toEqual([
      'content',
      'enquiry-form',
      'outside:stranger.test',
    ])
    expect(attribute(page(1, 1), sources).requests.get('f')?.evidence).toBe('register')
  })

  it('give the prediction its figures', async () => {
    const place = { level: 'everywhere' }
    const predict = (effect: string) =>
      t.call('POST', `${site}/predictions`, { rules: [{ addon: 'enquiry-form', effect, place }] })
    const [skip, leaveOut] = await Promise.all([predict('skip'), predict('leave-out')])
    expect(skip.body).toMatchObject({
      saved: { requests: 1, transferBytes: 400, serverMs: 12.5, queries: 3 },
      pages: 8,
      pagesUnread: 7,
    })
    expect(leaveOut.body.saved).toMatchObject({ requests: 1, transferBytes: 400, serverMs: 0 })
    const of = async (part: object) =>
      (await t.call('POST', `${site}/predictions`, { rules: [{ addon: 'enquiry-form', place, ...part }] })).body
    const file = '/add-ons/enquiry-form/enquiry-form.js'
    expect((await of({ effect: 'leave-out', file })).saved).toMatchObject({ requests: 1, transferBytes: 400 })
    expect(await of({ effect: 'hold' })).toMatchObject({ saved: { requests: 0 }, postponed: { requests: 1 } })
    // None of it takes a reading: what decides it was kept when the page was read.
    await sequelize().query('create table put_away as select id, detail, detail_in from reading')
    await sequelize().query('update reading set detail = null, detail_in = null')
    const order = await of({ effect: 'order', order: 'end', file })
    expect(order).toMatchObject({ saved: { requests: 0 }, postponed: { requests: 1, transferBytes: 400 }, pages: 8 })
    expect((await of({ effect: 'skip', file })).saved).toMatchObject({ requests: 1, transferBytes: 400 })
    await sequelize().query(
      'update reading set detail = put_away.detail, detail_in = put_away.detail_in from put_away where put_away.id = reading.id',
    )
    await sequelize().query('drop table put_away')
    // It is the same once it is made of them anew.
    await sequelize().query('delete from prediction_groups')
    expect(await of({ effect: 'order', order: 'end', file })).toEqual(order)
    // A sweep of an earlier version has no groups: they are worked out once, however many ask at once.
    await sequelize().query('delete from prediction_groups')
    let stored = 0
    sequelize().options.logging = (sql) => void (/insert into prediction_groups/.test(sql) && stored++)
    const many = await Promise.all(Array.from({ length: 20 }, () => predict('skip')))
    sequelize().options.logging = false
    expect(new Set(many.map(({ body }) => body.saved.transferBytes))).toEqual(new Set([400]))
    expect(stored).toBe(1)
  })
})
