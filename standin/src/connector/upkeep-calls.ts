import { PAGES } from '../content/pages.js'
import type { Fernhollow } from '../cms/fernhollow.js'
import { Refusal } from '../cms/refusal.js'
import { withLastRead } from '../visits/last-read.js'
import { recordOf, type Calls } from './call.js'

const LONGEST_NAME = 200

/** Caches, snapshots, leftovers, scratch pages, the shelf and the access log. */
export const upkeepCalls = (site: Fernhollow): Calls => ({
  'POST /purge': ({ body, address }) => ({ json: { caches: site.purge(pathsOf(body), address.origin) } }),
  'POST /warm': async ({ body, address }) => ({
    json: { warmed: await site.warm(pathsOf(body) ?? PAGES.map((page) => page.path), address.origin) },
  }),
  'GET /snapshots': async () => ({ json: { snapshots: await site.snapshots.list() } }),
  'POST /snapshots': async ({ body }) => {
    const { name } = recordOf(body)
    if (typeof name !== 'string' || name === '' || name.length > LONGEST_NAME)
      throw problem('/name', `a text of 1 to ${LONGEST_NAME} characters`)
    return { json: await site.snapshots.make(name), status: 201 }
  },
  'GET /snapshots/*': async ({ name }) => {
    const id = idOf(name)
    return { json: { id, parts: await site.snapshots.inside(id), newer: await site.snapshots.newer(id) } }
  },
  'POST /snapshots/*/restore': async ({ name, body }) => {
    const id = idOf(name)
    const { addOn } = recordOf(body)
    if (addOn !== undefined && typeof addOn !== 'string') throw problem('/addOn', 'the slug of an add-on')
    await (addOn === undefined ? site.restore(id) : site.restorePart(id, addOn))
    return { json: { restored: id } }
  },
  'GET /leftovers': async () => ({ json: { leftovers: withLastRead(await site.leftovers.list(), site.accessLog()) } }),
  'POST /leftovers/remove': async ({ body }) => {
    const { ids } = recordOf(body)
    if (!Array.isArray(ids) || ids.length === 0 || !ids.every((id): id is string => typeof id === 'string'))
      throw problem('/ids', 'a list of ids of leftovers')
    return { json: { removed: await site.leftovers.remove(ids) } }
  },
  'GET /keepings': async () => ({ json: { keepings: await site.keepings.list() } }),
  'POST /keepings/remove': async ({ body }) => {
    const { id, olderThanDays } = recordOf(body)
    return { json: { removed: await site.keepings.remove(id, olderThanDays) } }
  },
  'POST /tables/compact': async ({ body }) => ({
    json: { tables: await site.keepings.compact(recordOf(body).tables) },
  }),
  'POST /scratch': ({ body }) => {
    const { like } = recordOf(body)
    if (typeof like !== 'string') throw problem('/like', 'the path of the page to copy')
    const { path, title, kind, area } = site.book.makeScratch(like)
    return { json: { path, title, kind, area }, status: 201 }
  },
  'POST /scratch/remove': ({ body }) => {
    const { path } = recordOf(body)
    if (typeof path !== 'string') throw problem('/path', 'the path of a scratch page')
    if (!site.book.removeScratch(path)) throw new Refusal(404, `There is no scratch page ${path}.`)
    site.cache.purge([path])
    return { json: { removed: path } }
  },
  'GET /shelf': () => ({ json: { addOns: site.shelf.list() } }),
  'GET /access-log': () => ({ text: site.accessLog() }),
})

function idOf(name: string): number {
  if (!/^\d{1,9}$/.test(name)) throw new Refusal(404, `There is no snapshot ${name}.`)
  return Number(name)
}

const problem = (at: string, expected: string) =>
  new Refusal(422, `${at.slice(1)}: expected ${expected}.`, { problems: [{ at, expected }] })

/** The body's list of paths; undefined when it names none. */
function pathsOf(body: unknown): string[] | undefined {
  const { paths } = recordOf(body)
  if (paths === undefined) return undefined
  if (Array.isArray(paths) && paths.every((path): path is string => typeof path === 'string')) return paths
  throw problem('/paths', 'a list of paths')
}
