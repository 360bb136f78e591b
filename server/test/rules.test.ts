import { Sequelize } from 'sequelize'
import { draftExpired } from '../src/rule/expired-rules.js'
import { appForTest, KEY } from './app-for-test.js'

let t: Awaited<ReturnType<typeof appForTest>>
let site: string

beforeAll(async () => {
  t = await appForTest()
  const { body } = await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })
  site = `/sites/${body.id}`
})
afterAll(() => t?.stop())

const draft = (addon: string, effect: string, place: object) =>
  t.call('POST', `${site}/drafts`, { rules: [{ addon, effect, place }] })
const onAbout = { level: 'page', path: '/about' }
/** Puts the drafts live, or takes something back, and waits for how it ends. */
async function apply(what = 'put-live', body: object = { unrehearsed: 'a test' }) {
  const begun = await t.call('POST', `${site}/rules/${what}`, body)
  if (begun.status !== 200) return begun
  for (;;) {
    const { body: now } = await t.call('GET', `/deployments/${begun.body.id}`)
    if (now.finishedAt !== null) return { status: begun.status, body: now }
    await new Promise((resolve) => setTimeout(resolve, 100))
  }
}
const endSweeps = () => t.app.get(Sequelize).query(`update sweep set status = 'cancelled' where status = 'running'`)

describe('drafts', () => {
  afterEach(() => t.call('DELETE', `${site}/drafts`))

  it('are looked through with what is known of the site, and each finding has its way out', async () => {
    const findings = async () => (await t.call('GET', `${site}/rules/findings`)).body
    expect(await findings()).toEqual([])
    await draft('enquiry-form', 'skip', { level: 'everywhere' })
    const kinds = (found: { kind: string }[]) => found.map(({ kind }) => kind)
    const first = await findings()
    expect(kinds(first)).toEqual(expect.arrayContaining(['needed', 'in-use']))
    const inUse = first.find(({ kind }: { kind: string }) => kind === 'in-use')
    expect(inUse).toMatchObject({
      pages: expect.arrayContaining(['/contact']),
      rules: [{ state: 'draft', rule: { addonName: 'Enquiry Form' } }],
      wayOut: { do: 'keep', addon: 'enquiry-form' },
    })
    await draft('enquiry-form', 'keep', { level: 'set', paths: inUse.wayOut.pages })
    expect(kinds(await findings())).not.toContain('in-use')
    await draft('rootlib', 'skip', { level: 'area', area: 'public' })
    const needed = (await findings()).find(({ kind }: { kind: string }) => kind === 'needed')
    expect(needed).toMatchObject({ about: expect.any(String), wayOut: { do: expect.any(String) } })
  })

  it('tell the second who writes on one of them what the first has made of it, and lose nothing', async () => {
    const { body } = await draft('enquiry-form', 'skip', onAbout)
    const [{ id, revision }] = body.rules
    const input = { addon: 'enquiry-form', effect: 'hold', place: onAbout }
    const write = (rule: object) => t.call('POST', `${site}/drafts`, { rules: [rule] })
    const first = await write({ ...input, effect: 'leave-out', basedOn: { id, revision } })
    expect(first).toMatchObject({ status: 200, body: { rules: [{ effect: 'leave-out' }] } })
    const second = await write({ ...input, basedOn: { id, revision } })
    expect(second.status).toBe(409)
    expect(second.body.title).toBe('Somebody has changed this draft meanwhile.')
    expect(second.body.errors[0].field).toBe('rules/0/basedOn')
    // A new rule on the same is told as well, and whoever goes on all the same does so without a basis.
    expect((await write({ ...input, basedOn: null })).body.title).toContain('on the same meanwhile')
    expect((await t.call('GET', `${site}/drafts`)).body.rules).toMatchObject([{ effect: 'leave-out' }])
    expect(await write(input)).toMatchObject({ status: 200, body: { rules: [{ effect: 'hold' }] } })
    const [now] = (await t.call('GET', `${site}/drafts`)).body.rules
    // Changed where it stands, it is another one; withdrawn, it is none.
    await t.call('PATCH', `${site}/drafts/${now.id}`, { effect: 'skip' })
    expect((await write({ ...input, basedOn: { id: now.id, revision: now.revision } })).status).toBe(409)
    await t.call('DELETE', `${site}/drafts/${now.id}`)
    const gone = await write({ ...input, basedOn: { id: now.id, revision: now.revision } })
    expect(gone).toMatchObject({ status: 409, body: { title: expect.stringContaining('withdrawn') } })
    // What lies aside is nobody's draft for now.
    const { body: again } = await write(input)
    await t.app
      .get(Sequelize)
      .query(`update draft set aside = '{"why": "a test", "at": ""}' where id = '${again.rules[0].id}'`)
    expect((await write({ ...input, basedOn: null })).status).toBe(200)
  })

  it('hold one rule per subject: a later one replaces an earlier', async () => {
    await draft('enquiry-form', 'skip', onAbout)
    const { body } = await draft('enquiry-form', 'leave-out', onAbout)
    expect(body.rules).toMatchObject([{ addon: 'enquiry-form', addonName: 'Enquiry Form', effect: 'leave-out' }])
    const changed = await t.call('PATCH', `${site}/drafts/${body.rules[0].id}`, { effect: 'skip' })
    expect(changed.body.rules).toMatchObject([{ effect: 'skip' }])
    const held = await t.call('PATCH', `${site}/drafts/${body.rules[0].id}`, { effect: 'hold', until: 'input' })
    expect(held.body.rules).toMatchObject([{ effect: 'hold', until: 'input' }])
    expect((await t.call('DELETE', `${site}/drafts/${body.rules[0].id}`)).body.rules).toEqual([])
  })

  it.each([
    ['an unknown add-on', 'nobody', 'skip', onAbout, 'not an add-on of its own'],
    ['a theme that must run', 'hollow', 'skip', onAbout, 'can’t leave Hollow unrun'],
    ['a place that is none', 'enquiry-form', 'skip', { level: 'page', path: 'about' }, 'begins with /'],
  ])('with %s are refused', async (_, addon, effect, place, sentence) => {
    const { status, body } = await draft(addon, effect, place)
    expect(status).toBe(422)
    expect(JSON.stringify(body)).toContain(sentence)
    expect((await t.call('GET', `${site}/drafts`)).body.rules).toEqual([])
  })

  it('hold for some visits only where that is asked for, and keep it when their effect is changed', async () => {
    const rules = [{ addon: 'enquiry-form', effect: 'skip', place: onAbout, condition: { device: 'handset' } }]
    const { body } = await t.call('POST', `${site}/drafts`, { rules })
    expect(body.rules).toMatchObject([{ condition: { device: 'handset' } }])
    const changed = await t.call('PATCH', `${site}/drafts/${body.rules[0].id}`, { effect: 'leave-out' })
    expect(changed.body.rules).toMatchObject([{ effect: 'leave-out', condition: { device: 'handset' } }])
    const misspelt = await t.call('POST', `${site}/drafts`, { rules: [{ ...rules[0], condition: { devise: 'desk' } }] })
    expect([misspelt.status, misspelt.body.errors[0].field]).toEqual([422, 'rules/0/condition/devise'])
  })

  it('with an effect the site can’t carry out are refused', async () => {
    const effects = (list: string[]) =>
      t.app.get(Sequelize).query(`update site set connector = jsonb_set(connector, '{effects}', :list::jsonb)`, {
        replacements: { list: JSON.stringify(list) },
      })
    await effects(['skip', 'keep'])
    const { status, body } = await draft('enquiry-form', 'hold', onAbout)
    await effects(['skip', 'leave-out', 'hold', 'keep'])
    expect(status).toBe(422)
    expect(JSON.stringify(body)).toContain('can’t carry out hold')
  })
})

describe('putting live', () => {
  afterEach(endSweeps)

  it('without a draft is refused', async () => expect((await apply()).status).toBe(409))

  it('sends the rules, purges, warms, checks as a visitor, and starts to read before and after', async () => {
    await fetchAsVisitor('/about')
    await draft('enquiry-form', 'skip', onAbout)
    const { status, body } = await apply()
    expect(status).toBe(200)
    expect(body).toMatchObject({ state: 'live', toVersion: 1, failure: null, proofId: expect.any(Number) })
    expect(body.steps.map(({ said }: { said: string }) => said)).toEqual([
      'Put live without a passed rehearsal: a test',
      'The site took the rules as version 1.',
      'Of the page cache, 1 copy purged.',
      '1 page warmed.',
      'Visitors get version 1 on the page it touches.',
      '1 page to be read before and after.',
    ])
    expect(await fetchAsVisitor('/about')).not.toContain('enquiry-form.js')
    expect(await fetchAsVisitor('/contact')).toContain('enquiry-form.js')
    expect((await t.call('GET', `${site}/drafts`)).body.rules).toEqual([])
    const proof = await t.call('GET', `/proofs/${body.proofId}`)
    expect(proof.body).toMatchObject({
      fromVersion: 0,
      toVersion: 1,
      title: 'Enquiry Form not run on /about',
      sweep: { purpose: 'proof', pages: 1, readingsPlanned: 10 },
    })
  })

  it('is read some times more on request, within bounds, once it is read to its end', async () => {
    const [{ id, sweep, gain }] = (await t.call('GET', `${site}/proofs`)).body
    expect(gain).toBeNull()
    const more = (times: number) => t.call('POST', `/proofs/${id}/more`, { times })
    const readToItsEnd = () => t.app.get(Sequelize).query(`update sweep set status = 'done' where id = ${sweep.id}`)
    expect((await more(3)).status).toBe(409)
    await readToItsEnd()
    expect(await more(3)).toMatchObject({ status: 200, body: { sweep: { status: 'running', readingsPlanned: 16 } } })
    for (const wrong of [0, 21, 1.5]) expect((await more(wrong)).status).toBe(422)
    for (let n = 0; n < 3; n++) {
      await readToItsEnd()
      await more(14)
    }
    await readToItsEnd()
    // Fifty times is as often as anything is read.
    expect(await more(20)).toMatchObject({ status: 409, body: { title: expect.stringContaining('50 times') } })
  })

  it('a live rule goes by a draft, and what is live is saved and taken in as a file', async () => {
    await endSweeps()
    const [live] = (await t.call('GET', `${site}/rules`)).body.versions[0].rules
    expect(live).toMatchObject({ addon: 'enquiry-form', made: expect.stringMatching(/^\d{4}-\d\d-\d\d$/) })
    const going = { addon: 'enquiry-form', effect: 'skip', place: onAbout, removed: true }
    const elsewhere = { ...going, place: { level: 'page', path: '/contact' } }
    const refused = await t.call('POST', `${site}/drafts`, { rules: [elsewhere] })
    expect(refused).toMatchObject({ status: 422, body: { title: 'No rule on just this is live.' } })
    const drafted = await t.call('POST', `${site}/drafts`, { rules: [going] })
    expect(drafted.body.rules).toMatchObject([{ addon: 'enquiry-form', removed: true }])
    const changed = await t.call('PATCH', `${site}/drafts/${drafted.body.rules[0].id}`, { effect: 'hold' })
    expect(changed.status).toBe(409)
    const file = async (query: string) =>
      (await fetch(`${await t.app.getUrl()}/api${site}/rules/file${query}`)).json() as Promise<{ rules: object[] }>
    expect((await file('?with=drafts')).rules).toEqual([])
    const kept = await file('')
    expect(kept).toMatchObject({ format: 'unvelt-rules/1', rules: [{ addon: 'enquiry-form', place: onAbout }] })

    const { body } = await apply()
    expect(body).toMatchObject({ state: 'live', what: 'Enquiry Form run again on /about' })
    expect(await fetchAsVisitor('/about')).toContain('enquiry-form.js')
    await endSweeps()

    const strange = { ...kept, rules: [...kept.rules, { id: 'x', addon: 'nobody', effect: 'skip', place: onAbout }] }
    const whole = await t.call('POST', `${site}/drafts/file`, { file: strange })
    expect(whole).toMatchObject({ status: 422, body: { errors: [{ field: 'rules/1/addon' }] } })
    expect((await t.call('GET', `${site}/drafts`)).body.rules).toEqual([])
    const part = await t.call('POST', `${site}/drafts/file`, { file: strange, partly: true })
    expect(part.body.rules).toMatchObject([{ addon: 'enquiry-form', place: onAbout }])
    const broken = await t.call('POST', `${site}/drafts/file`, {
      file: { format: 'unvelt-rules/1', rules: [{ id: 'x' }] },
    })
    expect(broken.status).toBe(422)
    expect(broken.body.title).toMatch('/rules/0/')
    expect((await apply()).body.state).toBe('live')
    await endSweeps()
  })

  it('a rule that was to hold until a day that is over is found, and can go', async () => {
    await t.call('POST', `${site}/drafts`, {
      rules: [{ addon: 'ribbon-share', effect: 'skip', place: onAbout, expires: '2020-02-29' }],
    })
    const findings = (await t.call('GET', `${site}/rules/findings`)).body
    expect(findings).toContainEqual(
      expect.objectContaining({
        kind: 'expired',
        about: '2020-02-29',
        wayOut: expect.objectContaining({ do: 'remove' }),
      }),
    )
    const wrong = { addon: 'ribbon-share', effect: 'skip', place: onAbout, expires: '2021-02-29' }
    expect((await t.call('POST', `${site}/drafts`, { rules: [wrong] })).status).toBe(422)
    await t.call('DELETE', `${site}/drafts`)
  })

  it('adds to what is live, and taking back restores it as a new version', async () => {
    await draft('pass-it-on', 'leave-out', { level: 'kind', kind: 'event' })
    expect((await apply()).body.toVersion).toBe(4)
    await endSweeps()
    expect((await t.call('GET', `${site}/rules`)).body.versions[0].rules).toHaveLength(2)
    // The stopper names the file, so that no script can bring it back.
    expect(await fetchAsVisitor('/events/seed-swap')).not.toContain('src="/add-ons/pass-it-on/pass-it-on.js')
    // Whoever has not seen yet what is live takes nothing back that somebody else put there.
    const unseen = await t.call('POST', `${site}/rules/take-back/2?live=3`)
    expect(unseen).toMatchObject({ status: 409, body: { title: expect.stringContaining('Version 4 has gone live') } })
    expect((await t.call('GET', `${site}/rules`)).body.version).toBe(4)
    expect((await apply('take-back/3')).body.toVersion).toBe(5)
    expect(await fetchAsVisitor('/events/seed-swap')).toContain('src="/add-ons/pass-it-on/pass-it-on.js')
    expect((await t.call('GET', `${site}/rules`)).body.versions[0]).toMatchObject({
      version: 5,
      rules: [{ addon: 'enquiry-form' }],
    })
  })

  it('purges the page when only the moment of a hold changes', async () => {
    for (const until of ['idle', 'input']) {
      await t.call('POST', `${site}/drafts`, {
        rules: [{ addon: 'pass-it-on', effect: 'hold', until, place: onAbout }],
      })
      expect((await apply()).status).toBe(200)
      await endSweeps()
      expect(await fetchAsVisitor('/about')).toContain(`data-unvelt-until="${until}"`)
      expect((await t.call('GET', `${site}/rules`)).body.versions[0].what).toBe('Pass It On held back on /about')
    }
  })

  it('what is held until asked for has own words in its place, and says them nowhere else', async () => {
    const rule = {
      addon: 'pass-it-on',
      effect: 'hold',
      until: 'asked',
      ask: { words: 'Show how to share' },
      place: onAbout,
    }
    const wrong = await t.call('POST', `${site}/drafts`, { rules: [{ ...rule, until: 'idle' }] })
    expect(wrong).toMatchObject({ status: 422, body: { errors: [{ field: 'rules/0/ask' }] } })
    expect((await t.call('POST', `${site}/drafts`, { rules: [rule] })).body.rules).toMatchObject([{ ask: rule.ask }])
    expect((await apply()).status).toBe(200)
    await endSweeps()
    expect(await fetchAsVisitor('/about')).toContain('data-unvelt-ask="pass-it-on">Show how to share</button>')
  })

  it('a live rule that ran out is drafted to go, once, and holds until that is live', async () => {
    await t.call('POST', `${site}/drafts`, {
      rules: [{ addon: 'river-level', effect: 'skip', place: onAbout, expires: '2099-01-31', note: 'for the flood' }],
    })
    expect((await apply()).body.state).toBe('live')
    await endSweeps()
    const expire = (day: string) => draftExpired(t.app.get(Sequelize), new Date(day))
    expect(await expire('2099-01-31')).toBe(0)
    expect(await expire('2099-02-01')).toBe(1)
    const { body: drafts } = await t.call('GET', `${site}/drafts`)
    expect(drafts.rules).toEqual([
      expect.objectContaining({
        addon: 'river-level',
        removed: true,
        note: 'Was to hold until 2099-01-31. for the flood',
      }),
    ])
    expect(await expire('2099-02-01')).toBe(0)
    await t.call('DELETE', `${site}/drafts`)
    expect(await expire('2099-02-02')).toBe(0)
    const { body: live } = await t.call('GET', `${site}/rules`)
    expect(live.versions[0].rules.map(({ addon }: { addon: string }) => addon)).toContain('river-level')
  })

  it('writes nothing while a sweep runs, since the pages could not be read afterwards', async () => {
    const before = await connector('GET')
    await t.call('POST', `${site}/sweeps`, {})
    await draft('canopy-slider', 'skip', onAbout)
    expect((await apply()).status).toBe(409)
    expect(await connector('GET')).toEqual(before)
    await t.call('DELETE', `${site}/drafts`)
  })

  it('writes nothing when somebody else has changed the site’s rules meanwhile', async () => {
    const before = await connector('GET')
    await connector('PUT', { format: 'unvelt-rules/1', rules: [] }, before.version!)
    await draft('canopy-slider', 'skip', onAbout)
    const { status, body } = await apply()
    expect(status).toBe(409)
    expect(body.title).toContain('Nothing was written')
    expect((await connector('GET')).version).toBe(`"${Number(before.version!.slice(1, -1)) + 1}"`)
    expect((await t.call('GET', `${site}/drafts`)).body.rules).toHaveLength(1)
  })
})

async function connector(method: string, body?: object, ifMatch = '') {
  const response = await siteRequest('/unvelt/v1/rules', {
    method,
    headers: { authorization: `Bearer ${KEY}`, 'if-match': ifMatch },
    ...(body && { body: JSON.stringify(body) }),
  })
  return { version: response.headers.get('etag') }
}

async function fetchAsVisitor(path: string): Promise<string> {
  return (await siteRequest(path)).text()
}

async function siteRequest(path: string, init: object = {}) {
  const { siteFetch } = await import('../src/site-http/site-fetch.js')
  return siteFetch(t.standin.address + path, { reach: 'anywhere', ...init })
}
