import { AddOnRow } from '../add-on/add-on.model.js'
import type { SiteRow } from '../site/site.model.js'
import type { WorkerTools } from '../worker/worker-tools.js'
import { onShelf } from './changed-since.js'

/** More are not tried: whoever has that many knows which one it was. */
const MOST = 4

/**
 * Versions of an add-on that the site can make a page with, in the place of the installed one: those before it first, the newest of them in
 * front. None where the site can't, or does not say what it has.
 */
export async function versionsToTry(
  { secret }: Pick<WorkerTools, 'secret'>,
  site: SiteRow,
  slug: string,
): Promise<string[]> {
  const [row, shelf] = await Promise.all([
    AddOnRow.findOne({ where: { siteId: site.id, slug }, attributes: ['version'] }),
    onShelf(secret, site),
  ])
  const now = row?.version ?? ''
  const others = shelf.filter((one) => one.slug === slug && one.version !== now).map(({ version }) => version)
  const order = new Intl.Collator('en', { numeric: true })
  const newest = [...new Set(others)].sort((a, b) => order.compare(b, a))
  const before = newest.filter((version) => order.compare(version, now) < 0)
  return [...before, ...newest.filter((version) => !before.includes(version))].slice(0, MOST)
}
