import type { Fernhollow } from '../cms/fernhollow.js'
import { Refusal } from '../cms/refusal.js'
import type { Calls } from './call.js'
import { assetRegister, inventory } from './inventory.js'
import { useEvidence } from './use-evidence.js'

const AT_A_TIME = 200

/** What the site tells of itself: add-ons, pages, files, use. */
export const siteCalls = (site: Fernhollow): Calls => ({
  'GET /inventory': async () => ({ json: { addOns: await inventory(site) } }),
  'GET /pages': ({ address }) => {
    const { part, next } = partOf(site.book.listed(), address)
    return {
      json: {
        pages: part.map(({ path, title, kind, area, roles, modified }) => ({
          path,
          title,
          kind,
          area,
          signedIn: roles !== undefined,
          modified,
          weight: site.viewsOf(path),
        })),
        next,
      },
    }
  },
  'GET /assets': () => {
    const copies = { ...site.copies.register(), ...site.made.register() }
    const register = assetRegister(site.installed.addOns, copies)
    const glued = site.files.glued
      .all()
      .map(({ path, parts }) => [path, parts.map((part) => ({ ...part, addon: register.files[part.path] ?? null }))])
    return { json: { ...register, glued: Object.fromEntries(glued) as Record<string, unknown> } }
  },
  'GET /use-evidence': ({ address }) => {
    const { part, next } = partOf(useEvidence(site.book.listed(), site.installed.addOns), address)
    return { json: { uses: part, next } }
  },
})

function partOf<T>(all: T[], address: URL): { part: T[]; next: number | null } {
  const from = Number(address.searchParams.get('from') ?? 0)
  if (!Number.isInteger(from) || from < 0) throw new Refusal(400, 'from: expected a whole number, 0 or more.')
  const part = all.slice(from, from + AT_A_TIME)
  return { part, next: from + part.length < all.length ? from + part.length : null }
}
