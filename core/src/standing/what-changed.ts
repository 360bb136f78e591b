/** A payer in one of two sweeps, summed over the pages that both have read. */
export interface PayerThen {
  slug: string
  name: string
  requests: number
  transferBytes: number
  serverMs: number
}

export interface Change {
  type: 'new' | 'gone' | 'heavier' | 'lighter' | 'updated' | 'new outsider' | 'unassigned'
  slug: string
  name: string
  /** Differences: now less then. */
  requests: number
  transferBytes: number
  serverMs: number
  /** For an update. */
  from?: string
  to?: string
}

interface InstalledThen {
  slug: string
  name: string
  version: string | null
  active: boolean
}

/** Less than this is no news, whatever share it is: in bytes over all pages. */
const LEAST_BYTES = 20_000

/**
 * What changed from one sweep to a later one over the same pages: add-ons that came, went, were updated, or weigh more or
 * less than the threshold (a share) allows for; outsiders nobody announced; more that nobody is charged with.
 */
export function whatChanged(
  then: { payers: readonly PayerThen[]; installed: readonly InstalledThen[] },
  now: { payers: readonly PayerThen[]; installed: readonly InstalledThen[] },
  threshold: number,
): Change[] {
  const before = new Map(then.payers.map((payer) => [payer.slug, payer]))
  const after = new Map(now.payers.map((payer) => [payer.slug, payer]))
  const was = new Map(then.installed.map((entry) => [entry.slug, entry]))
  const is = new Map(now.installed.map((entry) => [entry.slug, entry]))
  const changes: Change[] = []
  for (const slug of new Set([...before.keys(), ...after.keys(), ...was.keys(), ...is.keys()])) {
    const [a, b] = [before.get(slug), after.get(slug)]
    const [entryThen, entryNow] = [was.get(slug), is.get(slug)]
    const difference = {
      slug,
      name: entryNow?.name ?? b?.name ?? entryThen?.name ?? a?.name ?? slug,
      requests: (b?.requests ?? 0) - (a?.requests ?? 0),
      transferBytes: (b?.transferBytes ?? 0) - (a?.transferBytes ?? 0),
      serverMs: (b?.serverMs ?? 0) - (a?.serverMs ?? 0),
    }
    if (entryNow && !entryThen && was.size > 0) changes.push({ type: 'new', ...difference })
    else if (entryThen && !entryNow && is.size > 0) changes.push({ type: 'gone', ...difference })
    else if (entryThen && entryNow && entryThen.version !== entryNow.version)
      changes.push({ type: 'updated', ...difference, from: entryThen.version ?? '', to: entryNow.version ?? '' })
    else if (slug.startsWith('outside:') && !a && b) changes.push({ type: 'new outsider', ...difference })
    else if (slug === 'unassigned') {
      if (difference.requests > 0) changes.push({ type: 'unassigned', ...difference })
    } else if (isNews(difference.transferBytes, a?.transferBytes ?? 0, threshold))
      changes.push({ type: difference.transferBytes > 0 ? 'heavier' : 'lighter', ...difference })
  }
  return changes.sort((a, b) => Math.abs(b.transferBytes) - Math.abs(a.transferBytes) || a.name.localeCompare(b.name))
}

const isNews = (difference: number, before: number, threshold: number) =>
  Math.abs(difference) >= LEAST_BYTES && Math.abs(difference) > before * threshold
