import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { brotliCompress, brotliDecompress, constants, gzip } from 'node:zlib'
import { connectorOf } from './past-states.mjs'
import { detailsOf, inserter, wholeRows, within } from './past-rows.mjs'
import { ROOT } from './workspace.mjs'

export const DEPLOYMENTS_FILE = join(ROOT, 'demo/deployments.br')
/** The port that addresses in the file carry. */
const PORT = 4610
const DAY = 86_400_000
/** How long ago each change was, one after the other, between the recorded sweeps. */
const DAYS_AGO = [40, 33, 16, 9]

/** What hangs on a change: of the guards that were played once it was live, and of the readings before and after. */
const OF_NET = ['rehearsal_page', 'rehearsal_picture', 'culprit_search']
const OF_SWEEP = ['sweep_page', 'reading', 'toll']

/** Writes changes of a stack's live rules to the file, with guards, searches and proofs, by page paths and lens names instead of numbers. */
export async function saveDeployments({ databaseUrl, standinAddress }, ids, file = DEPLOYMENTS_FILE) {
  await within(databaseUrl, async (db) => {
    const all = async (sql, ...values) => (await db.query(sql, values)).rows
    const rowsOf = async (table, by, id) =>
      (await all(`select to_jsonb(t) - 'bytes_id' row from ${wholeRows(table)} t where ${by} = $1`, id)).map(
        ({ row }) => row,
      )
    const names = async (sql) => new Map((await all(sql)).map(({ id, name }) => [id, name]))
    const pages = await names('select id, path "name" from page')
    const lenses = await names('select id, name from lens')
    const named = ({ page_id: page, lens_id: lens, ...row }) => ({
      ...row,
      ...(page !== undefined && { page_id: pages.get(page) }),
      ...(lens !== undefined && { lens_id: lenses.get(lens) }),
    })
    const changes = []
    for (const id of ids) {
      const [row] = await rowsOf('deployment', 'id', id)
      const change = { row, tables: {} }
      if (row.net_id !== null) {
        const [net] = await rowsOf('rehearsal', 'id', row.net_id)
        change.net = net
        for (const table of OF_NET) change.tables[table] = (await rowsOf(table, 'rehearsal_id', net.id)).map(named)
        // One picture a side is shown, and the others were only there to be compared.
        change.tables.rehearsal_picture = change.tables.rehearsal_picture.filter(
          ({ turn, moment }) => turn < 2 && moment === 0,
        )
      }
      if (row.proof_id !== null) {
        ;[change.proof] = await rowsOf('proof', 'id', row.proof_id)
        change.sweep = named((await rowsOf('sweep', 'id', change.proof.sweep_id))[0])
        for (const table of OF_SWEEP)
          change.tables[table] = (await rowsOf(table, 'sweep_id', change.sweep.id)).map(named)
        const details = await detailsOf(change.tables.reading)
        change.tables.reading = change.tables.reading.map(({ detail_in: _, ...reading }, n) => ({
          ...reading,
          detail: JSON.stringify(details[n]),
        }))
      }
      changes.push(change)
    }
    const versions = await all('select version, rules, what, put_at from rule_version order by version')
    const text = JSON.stringify({ changes, versions }).replaceAll(
      `localhost:${new URL(standinAddress).port}`,
      `localhost:${PORT}`,
    )
    const params = { [constants.BROTLI_PARAM_QUALITY]: 9, [constants.BROTLI_PARAM_LGWIN]: 24 }
    writeFileSync(file, await promisify(brotliCompress)(Buffer.from(text), { params }))
    console.log(`${file}: ${changes.length} changes of rules.`)
  })
}

/** Gives a site the recorded changes as if they had been made on their days. What each put live is put at the site itself, too. */
export async function loadDeployments(stack, siteId, file = DEPLOYMENTS_FILE) {
  const text = (await promisify(brotliDecompress)(readFileSync(file))).toString()
  const here = `localhost:${new URL(stack.standinAddress).port}`
  const { changes, versions } = JSON.parse(text.replaceAll(`localhost:${PORT}`, here))
  const connector = connectorOf(stack)
  for (const { version, rules } of versions)
    await connector('PUT', '/rules', { format: 'unvelt-rules/1', rules }, { 'if-match': `"${version - 1}"` })
  await within(stack.databaseUrl, async (db) => {
    const ids = async (sql) => new Map((await db.query(sql, [siteId])).rows.map(({ name, id }) => [name, id]))
    const pages = await ids('select path "name", id from page where site_id = $1')
    const lenses = await ids('select name, id from lens where site_id = $1')
    await db.query('begin')
    try {
      for (const [index, change] of changes.entries())
        await new Loaded(db, { siteId, pages, lenses }, change.row.started_at, DAYS_AGO[index]).insert(change)
      for (const version of versions) {
        const at = changes.findLastIndex(({ row }) => row.started_at <= version.put_at)
        const { moved } = new Loaded(db, {}, changes[at].row.started_at, DAYS_AGO[at])
        await inserter(db)('rule_version', { ...version, put_at: moved(version.put_at), site_id: siteId })
      }
      await db.query('commit')
    } catch (error) {
      await db.query('rollback')
      throw error
    }
  })
}

/** One change on its way into the tables of a site, moved to its day. */
class Loaded {
  constructor(db, { siteId, pages, lenses }, began, daysAgo) {
    const later = Date.now() - daysAgo * DAY - new Date(began).getTime()
    this.moved = (time) => time && new Date(new Date(time).getTime() + later)
    this.db = db
    this.siteId = siteId
    this.pages = pages
    this.lenses = lenses
  }

  async insert({ row, net, proof, sweep, tables }) {
    const netId = net ? await this.put('rehearsal', { ...net, deployment_id: null }) : null
    if (net) await this.putAll(OF_NET, tables, { rehearsal_id: netId })
    let proofId = null
    if (proof) {
      const { rows } = await this.db.query('select sources from sweep where site_id = $1 order by id desc limit 1', [
        this.siteId,
      ])
      const sweepId = await this.put('sweep', { ...sweep, sources: rows[0].sources, run_id: null })
      await this.db.query('update sweep set run_id = id where id = $1', [sweepId])
      await this.putAll(OF_SWEEP, tables, { sweep_id: sweepId })
      proofId = await this.put('proof', { ...proof, sweep_id: sweepId })
    }
    const steps = row.steps.map((step) => ({ ...step, at: this.moved(step.at) }))
    const id = await this.put('deployment', { ...row, steps, net_id: netId, proof_id: proofId })
    if (net) await this.db.query('update rehearsal set deployment_id = $1 where id = $2', [id, netId])
  }

  /** @returns the row's new number. */
  async put(table, { id: _, ...row }) {
    const { id } = await inserter(this.db)(table, { ...(await this.here(row)), site_id: this.siteId })
    return id
  }

  async putAll(names, tables, whole) {
    for (const table of names)
      for (const { id: _, ...row } of tables[table]) {
        const here = await this.here(row)
        // A page that the site no longer has is left out.
        if (here.page_id !== undefined) await inserter(this.db)(table, { ...here, ...whole })
      }
  }

  /** A row as it is here and now: pages and lenses by their numbers, times on their day, readings packed. */
  async here(row) {
    const times = Object.entries(row).filter(([name]) => name.endsWith('_at'))
    return {
      ...row,
      ...('page_id' in row && { page_id: this.pages.get(row.page_id) }),
      ...('lens_id' in row && { lens_id: this.lenses.get(row.lens_id) }),
      ...('detail' in row && { detail: `\\x${(await promisify(gzip)(row.detail, { level: 1 })).toString('hex')}` }),
      ...Object.fromEntries(times.map(([name, time]) => [name, this.moved(time)])),
    }
  }
}
