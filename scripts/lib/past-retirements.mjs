import { request } from 'node:http'
import { within } from './past-rows.mjs'

/** Who is retiring what at the arboretum. All of it is really done at the stand-in, and then dated back. */
const SHE = 'Wren Alder'
const DAY = 86_400_000

/** Three of them: one that is done, one that is watched for half a year, one whose pages are being changed. */
export async function retirePast(stack, site, call) {
  const sheets = sheetsOf(site, call)
  await goesForGood(stack, site, sheets)
  await isWatched(stack, site, sheets)
  await isBeingChanged(stack, site, sheets, call)
}

/** The ticker has been off for as long as anybody has looked, so that it can go at once. */
async function goesForGood(stack, site, { open, change, act }) {
  const { id } = await open('ticker')
  await change(id, { successor: { kind: 'nothing', note: 'Nobody has asked for it since.' }, who: SHE })
  await change(id, { word: SHE, note: 'Off since the spring before last.', who: SHE })
  await act(id, 'snapshot')
  await act(id, 'look')
  const { leftovers } = await act(id, 'remove')
  if (leftovers?.length > 0) await act(id, 'clear', { ids: leftovers.map((leftover) => leftover.id) })
  await within(stack.databaseUrl, async (db) => {
    await dateBack(stack, db, id, 12 * DAY)
    // A sweep since knows nothing of it any more.
    await db.query(
      `update sweep set inventory = (select coalesce(jsonb_agg(entry), '[]') from jsonb_array_elements(inventory) entry
         where entry ->> 'slug' <> 'ticker')
       where site_id = $1 and started_at > (select removed_at from retirement where id = $2)`,
      [site, id],
    )
  })
  await change(id, { state: 'done', who: SHE })
  await within(stack.databaseUrl, (db) =>
    db.query(`update retirement set finished_at = now() - interval '1 day' where id = $1`, [id]),
  )
}

/** The moon is asked for once a season, so it is watched for longer. */
async function isWatched(stack, _, { open, change, act }) {
  const { id } = await open('moon-phase')
  await change(id, { successor: { kind: 'nothing', note: 'The calendar on the wall.' }, who: SHE })
  await change(id, { word: 'Hazel Marsh', note: 'If nobody misses it by spring.', who: SHE })
  await act(id, 'snapshot')
  await change(id, { watchDays: 180, who: SHE })
  await act(id, 'look')
  await within(stack.databaseUrl, (db) => dateBack(stack, db, id, 9 * DAY))
}

/** The weather stands on three pages, and one of them was changed. */
async function isBeingChanged(stack, site, { open, change, changePage }, call) {
  const { id, worklist } = await open('sky-reports')
  await change(id, { successor: { kind: 'nothing', note: 'A link to the weather service.' }, who: SHE })
  const days = (n) => new Date(Date.now() + n * DAY).toISOString().slice(0, 10)
  for (const [n, { pageId }] of worklist.entries())
    await changePage(id, pageId, { owner: n === 0 ? 'Hazel Marsh' : 'Events team', due: days(5 + 4 * n) })
  await takeOut(stack, '/articles/the-old-pump', '[[weather from="down"]]')
  await call('POST', `/sites/${site}/refresh`)
  await within(stack.databaseUrl, (db) => dateBack(stack, db, id, 4 * DAY))
}

/** A retirement's sheet, asked for through the API as a maintainer would. */
function sheetsOf(site, call) {
  const sheet = (id) => call('GET', `/retirements/${id}`)
  return {
    open: (slug) => call('POST', `/sites/${site}/retirements`, { slug, who: SHE }),
    change: (id, to) => call('PATCH', `/retirements/${id}`, to),
    changePage: (id, page, to) => call('PATCH', `/retirements/${id}/pages/${page}`, to),
    async act(id, act, more = {}) {
      await call('POST', `/retirements/${id}/do`, { act, who: SHE, ...more })
      for (;;) {
        const now = await sheet(id)
        if (now.failure) throw new Error(`${act} of ${now.slug}: ${now.failure}`)
        if (!now.doing) return now
        await new Promise((resolve) => setTimeout(resolve, 200))
      }
    },
  }
}

/** As if all that was done and said of it had been so much earlier. */
async function dateBack({ standinDatabaseUrl }, db, id, ms) {
  const earlier = (column) => `${column} - make_interval(secs => $2)`
  await db.query(
    `update retirement set opened_at = ${earlier('opened_at')}, removed_at = ${earlier('removed_at')},
     word = case when word is null then null else word || jsonb_build_object('at', ${earlier(`(word ->> 'at')::timestamptz`)}) end,
     snapshot = case when snapshot is null then null
       else snapshot || jsonb_build_object('madeAt', ${earlier(`(snapshot ->> 'madeAt')::timestamptz`)}) end,
     log = (select coalesce(jsonb_agg(entry || jsonb_build_object('at', ${earlier(`(entry ->> 'at')::timestamptz`)}) order by n), '[]')
       from jsonb_array_elements(log) with ordinality as said(entry, n))
     where id = $1`,
    [id, ms / 1000],
  )
  const { rows } = await db.query(`select (snapshot ->> 'id')::int id from retirement where id = $1`, [id])
  if (rows[0].id === null) return
  await within(standinDatabaseUrl, (theirs) =>
    theirs.query('update loam_snapshots set made_at = made_at - make_interval(secs => $2) where id = $1', [
      rows[0].id,
      ms / 1000,
    ]),
  )
}

/** Takes a block out of a page in the site's own editor, as an editor. */
async function takeOut({ standinAddress }, path, block) {
  const ask = asker(standinAddress)
  const { cookie } = await ask('POST', '/sign-in', { form: { name: 'editor', word: 'gatehouse' } })
  const { text } = await ask('GET', `/office/editor?path=${encodeURIComponent(path)}`, { cookie })
  const title = /name="title"[^>]* value="([^"]*)"/.exec(text)?.[1] ?? ''
  const lead = /<textarea name="lead"[^>]*>([^<]*)</.exec(text)?.[1] ?? ''
  if (title === '') throw new Error(`the editor of the stand-in does not show ${path}`)
  await ask('POST', '/office/editor', { cookie, form: { path, title, lead, drop: block } })
}

/** Speaks with the stand-in, whose name the system's resolver need not know. */
const asker =
  (address) =>
  (method, path, { cookie, form } = {}) =>
    new Promise((resolve, reject) => {
      const { host, port } = new URL(address)
      const headers = {
        host,
        ...(cookie && { cookie }),
        ...(form && { 'content-type': 'application/x-www-form-urlencoded' }),
      }
      const sent = request({ host: '127.0.0.1', port, method, path, headers }, async (answer) => {
        let text = ''
        for await (const part of answer.setEncoding('utf8')) text += part
        const cookies = (answer.headers['set-cookie'] ?? []).map((each) => each.split(';')[0])
        if (answer.statusCode < 400) resolve({ text, cookie: cookies.join('; ') })
        else reject(new Error(`${method} ${path}: ${answer.statusCode}`))
      })
      sent.once('error', reject)
      sent.end(form && new URLSearchParams(form).toString())
    })
