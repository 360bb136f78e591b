import 'reflect-metadata'
import { Sequelize } from 'sequelize'
import type { WeighFigures } from '@unvelt/core'
import type { ProofShares, ShareOffer } from '@unvelt/contract'
import { PageRow } from '../src/page/page.model.js'
import { ProofRow } from '../src/proof/proof.model.js'
import { ReadingRow } from '../src/reading/reading.model.js'
import { DeploymentRow } from '../src/rule/deployment/deployment.model.js'
import type { DraftRule } from '../src/rule/merge-rules.js'
import { planPage, rulesOfWays } from '../src/share/plan-page.js'
import { ShareRow } from '../src/share/share.model.js'
import { SweepRow } from '../src/sweep/sweep.model.js'
import { SOURCES } from './a-reading.js'
import { appForTest, KEY } from './app-for-test.js'

/** Whose gain a proof tells of. */
let t: Awaited<ReturnType<typeof appForTest>>
let siteId: number
let page: PageRow
let lensId: number
beforeAll(async () => {
  t = await appForTest()
  const { body } = await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })
  siteId = body.id
  ;[{ id: lensId }] = (await t.call('GET', `/sites/${siteId}/lenses`)).body
  page = (await PageRow.findOne({ where: { siteId, path: '/about' } }))!
})
afterAll(() => t?.stop())

const visit = { device: 'desk', visitor: 'signed-out' } as const
const about = { path: '/about', kind: 'page', area: 'public' } as const
const rule = (addon: string, more: Partial<DraftRule> = {}): DraftRule => ({
  id: addon,
  addon,
  effect: 'skip',
  place: { level: 'everywhere' },
  ...more,
})

it('plans only what does something on the page, and reads what is made alike once', () => {
  const elsewhere = rule('river-level', { place: { level: 'page', path: '/contact' } })
  const onPhones = rule('field-map', { condition: { device: 'handset' } })
  const drafts = [rule('pass-it-on'), elsewhere, onPhones, rule('moon-phase')]
  const planned = planPage(
    [],
    drafts.map((one) => [one]),
    about,
    { visit, seed: 1 },
  )
  const { touches, plan, ways } = planned
  const rules = rulesOfWays(
    [],
    drafts.map((one) => [one]),
    planned,
  )
  expect(touches).toEqual([true, false, false, true])
  expect(plan!.sets).toEqual([[], [0], [1], [0, 1]])
  expect(ways).toEqual([0, 1, 2, 3])
  expect(rules.map((all) => all.map(({ addon }) => addon))).toEqual([
    [],
    ['pass-it-on'],
    ['moon-phase'],
    ['pass-it-on', 'moon-phase'],
  ])

  // Who is off altogether has no file to leave out; each of the two alone does something.
  const both = [
    rule('pass-it-on'),
    rule('pass-it-on', { id: 'b', file: '/a.js', effect: 'leave-out', place: { level: 'area', area: 'public' } }),
  ]
  expect(
    planPage(
      [],
      both.map((one) => [one]),
      about,
      { visit, seed: 1 },
    ).touches,
  ).toEqual([true, true])
  expect(planPage([], [[elsewhere]], about, { visit, seed: 1 })).toMatchObject({ plan: null, sets: [] })
  // A live rule that goes is a change as well.
  const live = [rule('pass-it-on')]
  const goes = [[rule('pass-it-on', { removed: true as const })]]
  const gone = planPage(live, goes, about, { visit, seed: 1 })
  expect(rulesOfWays(live, goes, gone).map((all) => all.length)).toEqual([1, 0])
})

async function aProof(drafts: DraftRule[]): Promise<ProofRow> {
  const sweep = await SweepRow.create({
    siteId,
    lensId,
    purpose: 'proof',
    status: 'done',
    repeats: 5,
    variants: [
      { name: 'before', rules: 0 },
      { name: 'after', rules: 1 },
    ],
    sources: SOURCES,
  })
  await ReadingRow.create({
    sweepId: sweep.id,
    pageId: page.id,
    variant: 'before',
    repeat: 1,
    failure: null,
    requests: 1,
    transferBytes: 1,
    decodedBytes: 1,
    serverMs: null,
    queries: null,
    queryMs: null,
    loadMs: 1,
    detail: null,
  })
  const proof = await ProofRow.create({
    siteId,
    sweepId: sweep.id,
    title: 'A change',
    fromVersion: 0,
    toVersion: 1,
  } as never)
  await DeploymentRow.create({
    siteId,
    what: 'A change',
    kind: 'drafts',
    fromVersion: 0,
    toVersion: 1,
    fromRules: [],
    toRules: drafts,
    draftIds: drafts.map(({ id }) => id),
    drafts,
    state: 'live',
    proofId: proof.id,
    options: { readAgain: 'sample' },
    finishedAt: new Date(),
  })
  return proof
}
const offer = async (id: number): Promise<ShareOffer> => (await t.call('GET', `/proofs/${id}/shares`)).body

it('reads the page under every set of the changes, and shares out what was spared, that two share counted once', async () => {
  const drafts = [
    rule('pass-it-on'),
    rule('moon-phase'),
    rule('river-level', { place: { level: 'page', path: '/contact' } }),
  ]
  const proof = await aProof(drafts)
  expect(await offer(proof.id)).toMatchObject({
    changes: ['Pass It On not run everywhere', 'Moon Phase not run everywhere', 'River Level not run on /contact'],
    pages: [{ path: '/about', touching: 2, sets: 4 }],
    whyNot: null,
    found: [],
  })
  const { status, body } = await t.call('POST', `/proofs/${proof.id}/shares`, { pageId: page.id, rounds: 3 })
  expect([status, body.title]).toEqual([201, undefined])
  expect(body).toMatchObject({ sets: 4, drawn: false, measures: [], sweep: { purpose: 'shares', readingsPlanned: 12 } })
  expect((await t.call('POST', `/proofs/${proof.id}/shares`, { pageId: page.id })).status).toBe(409)
  // As if a worker had read it: both need one library, which goes with the second of them.
  const [row] = await ShareRow.findAll({ where: { proofId: proof.id } })
  const weighs = [500_000, 460_000, 490_000, 430_000]
  for (const [way, transferBytes] of weighs.entries())
    for (const repeat of [1, 2, 3])
      await ReadingRow.create({
        sweepId: row!.sweepId,
        pageId: page.id,
        variant: `variant-${way}`,
        repeat,
        failure: null,
        requests: 10,
        transferBytes,
        decodedBytes: 1,
        serverMs: null,
        queries: null,
        queryMs: null,
        loadMs: null,
        figures: { transferBytes, requests: 10, idleBytes: repeat === 1 ? transferBytes / 2 : null } as WeighFigures,
        detail: null,
      })
  await SweepRow.update({ status: 'done' }, { where: { id: row!.sweepId } })
  const { found } = await offer(proof.id)
  const [{ measures, changes }] = found as [ProofShares]
  expect(changes.map(({ touches }) => touches)).toEqual([true, true, false])
  const of = (measure: string) => measures.find((one) => one.measure === measure)!
  expect(of('transferBytes')).toMatchObject({
    before: 500_000,
    total: { estimate: 70_000, low: 70_000, high: 70_000, word: 'gives' },
    each: [
      { estimate: 50_000, alone: 40_000, last: 60_000, word: 'gives' },
      { estimate: 20_000, alone: 10_000, last: 30_000, word: 'gives' },
      { estimate: 0, word: 'nothing' },
    ],
  })
  expect(of('requests').each.map(({ word }) => word)).toEqual(['nothing', 'nothing', 'nothing'])
  // Looked at once, nothing says how much it varies.
  expect(of('idleBytes').each[0]).toMatchObject({ estimate: 25_000, low: null, high: null, word: 'not sure' })
  expect(of('loadMs')).toBeUndefined()

  // It goes with its sweep, which may be deleted.
  expect((await t.call('DELETE', `/sweeps/${row!.sweepId}`)).status).toBe(200)
  expect((await offer(proof.id)).found).toEqual([])
})

it('says why nothing can be shared out', async () => {
  const one = await aProof([rule('pass-it-on')])
  expect((await offer(one.id)).whyNot).toMatch(/one change/)
  expect((await t.call('POST', `/proofs/${one.id}/shares`, { pageId: page.id })).status).toBe(409)
  const many = await aProof(Array.from({ length: 17 }, (_, n) => rule('pass-it-on', { id: `r${n}`, file: `/${n}.js` })))
  expect((await offer(many.id)).whyNot).toMatch(/17 changes; .* 16/)
  await DeploymentRow.destroy({ where: { proofId: many.id } })
  expect((await offer(many.id)).whyNot).toMatch(/not known any more/)
  const nowhere = await aProof(
    [1, 2].map((n) => rule('pass-it-on', { id: `r${n}`, place: { level: 'page', path: `/p${n}` } })),
  )
  expect((await offer(nowhere.id)).whyNot).toMatch(/none of the changes does anything/)
  const other = await t.call('POST', `/proofs/${nowhere.id}/shares`, { pageId: page.id })
  expect([other.status, other.body.title]).toEqual([422, expect.stringMatching(/none of its changes/)])
  expect((await t.call('GET', '/proofs/9999/shares')).status).toBe(404)
  expect(await t.app.get(Sequelize).query('select 1 from share_finding')).toMatchObject([[], {}])
})
