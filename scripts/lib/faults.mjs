import { createRequire } from 'node:module'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { smallSite } from './small-site.mjs'
import { ROOT } from './workspace.mjs'

const REPEATS = 2
/** What has not ended by then is stuck. */
const STUCK_MS = 150_000
/** A fault comes at any moment of what is under way. */
const LATEST_MS = 5_000

/**
 * Round after round: a sweep and a change of rules are begun, one process is killed at some moment, or the site, and both have to end, with
 * everything there that was acknowledged, once.
 * @returns {Promise<{ lost: number, doubled: number, stuck: number }>}
 */
export async function faultRounds(stack, { rounds, seed, tell = () => {} }) {
  const random = seeded(seed)
  const pick = (list) => list[Math.floor(random() * list.length)]
  const site = await smallSite()
  const pg = createRequire(join(ROOT, 'server/package.json'))('pg')
  const count = { lost: 0, doubled: 0, stuck: 0 }
  try {
    const patient = patientCaller(stack.address)
    const small = await patient('POST', '/sites', { address: site.address, withoutConnector: true, local: true })
    const large = await patient('POST', '/sites', {
      address: stack.standinAddress,
      connectorKey: stack.connectorKey,
      local: true,
    })
    const pages = (await patient('GET', `/sites/${small.id}/pages`)).length
    for (let round = 1; round <= rounds; round++) {
      const victim = pick(['worker', 'browser', 'server', 'database', 'site'])
      const after = Math.floor(random() * LATEST_MS)
      const began = Date.now()
      const sweep = await patient('POST', `/sites/${small.id}/sweeps`, { repeats: REPEATS })
      const effect = round % 2 ? 'skip' : 'leave-out'
      const place = { level: 'page', path: '/about' }
      await patient('POST', `/sites/${large.id}/drafts`, { rules: [{ addon: 'enquiry-form', effect, place }] })
      const change = await patient('POST', `/sites/${large.id}/rules/put-live`, {
        readAgain: 'none',
        unrehearsed: 'a fault round',
      })
      await pause(after)
      await kill(stack, victim)
      const sweepEnd = await ended(
        () => patient('GET', `/sweeps/${sweep.id}`),
        (now) => now.status === 'done',
      )
      const changeEnd = await ended(
        () => patient('GET', `/deployments/${change.id}`),
        (now) => now.finishedAt !== null,
      )
      const found = []
      if (!sweepEnd || !changeEnd) {
        count.stuck++
        found.push(`stuck: ${!sweepEnd ? `sweep ${sweep.id}` : `change ${change.id}`}`)
        if (!sweepEnd) await patient('POST', `/sweeps/${sweep.id}/cancel`)
      }
      if (sweepEnd) {
        const client = new pg.Client({ connectionString: stack.databaseUrl })
        await client.connect()
        const of = async (query) => Number((await client.query(query, [sweep.id])).rows[0].n)
        const readings = await of('select count(*) n from reading where sweep_id = $1 and failure is null')
        const places = await of('select count(distinct (page_id, variant, repeat)) n from reading where sweep_id = $1')
        const tolled = await of('select count(distinct page_id) n from toll where sweep_id = $1')
        const twice = await of(
          'select count(*) n from (select from toll where sweep_id = $1 group by page_id, variant, payer having count(*) > 1) x',
        )
        await client.end()
        const lost = pages * REPEATS - readings + (pages - tolled)
        count.lost += lost
        count.doubled += readings - places + twice
        if (lost > 0) found.push(`lost: ${pages * REPEATS - readings} readings, tolls of ${pages - tolled} pages`)
      }
      if (changeEnd) {
        const atSite = await patient('GET', `/sites/${large.id}/rules/at-site`)
        const agrees =
          atSite.onlyAtSite.length + atSite.onlyOurs.length === 0 && atSite.siteVersion === atSite.ourVersion
        const drafts = (await patient('GET', `/sites/${large.id}/drafts`)).rules.length
        const isWhole = changeEnd.state === 'live' ? drafts === 0 : changeEnd.state === 'taken-back' && drafts === 1
        if (!agrees || !isWhole) {
          count.lost++
          found.push(
            `change ${change.id} ${changeEnd.state}, ${agrees ? 'agreed' : 'not agreed'}, ${drafts} drafts: ${changeEnd.failure}`,
          )
        }
        await patient('DELETE', `/sites/${large.id}/drafts`)
      }
      tell(
        `${round}: ${victim} after ${after} ms, ended after ${((Date.now() - began) / 1000).toFixed(1)} s${found.map((each) => `; ${each}`).join('')}`,
      )
    }
  } finally {
    await site.stop()
  }
  return count
}

async function kill(stack, victim) {
  if (victim === 'database') return stack.cluster.crash()
  const pid = { server: stack.serverPid, site: stack.standinPid }[victim]?.() ?? stack.workerPid()
  for (const each of victim === 'browser' ? childrenOf(pid) : [pid])
    try {
      process.kill(each, 'SIGKILL')
    } catch {
      // It has just ended by itself.
    }
}

function childrenOf(pid) {
  try {
    return readFileSync(`/proc/${pid}/task/${pid}/children`, 'utf8').trim().split(' ').filter(Boolean).map(Number)
  } catch {
    return []
  }
}

const pause = (ms) => new Promise((resolve) => setTimeout(resolve, ms))

async function ended(ask, is) {
  for (const until = Date.now() + STUCK_MS; Date.now() < until; await pause(200)) {
    const now = await ask()
    if (is(now)) return now
  }
  return null
}

/** Speaks the API, through times when nobody answers. What was refused for a reason is an error. */
function patientCaller(address) {
  return async (method, path, body) => {
    for (const until = Date.now() + STUCK_MS; ; await pause(200)) {
      const response = await fetch(`${address}/api${path}`, {
        method,
        ...(body && { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
      }).catch(() => null)
      if (response?.ok) return response.json()
      const status = response?.status ?? 0
      const isAway = status === 0 || status >= 500
      if (!isAway || Date.now() > until) throw new Error(`${method} ${path}: ${status} ${await response?.text()}`)
      await response?.body?.cancel()
    }
  }
}

/** Mulberry32, so that a run can be had again. */
function seeded(seed) {
  let state = seed >>> 0
  return () => {
    state = (state + 0x6d2b79f5) >>> 0
    let t = Math.imul(state ^ (state >>> 15), 1 | state)
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296
  }
}
