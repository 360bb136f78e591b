interface Kept {
  body: Buffer
  since: number
}

/** Ten minutes; nobody but time empties this cache. */
const KEPT_MS = 600_000

/**
 * The cache of the delivery host. It stands in front of the site's files and belongs to the host, not to the CMS: no
 * call of the connector reaches it, so an updated file at an old address stays old until its time is over.
 */
export class DeliveryProxy {
  private readonly kept = new Map<string, Kept>()

  get(path: string, now: number, fetch: () => Buffer | undefined): (Kept & { hit: boolean }) | undefined {
    const known = this.kept.get(path)
    if (known && now - known.since < KEPT_MS) return { ...known, hit: true }
    const body = fetch()
    if (!body) return undefined
    const fresh = { body, since: now }
    this.kept.set(path, fresh)
    return { ...fresh, hit: false }
  }
}
