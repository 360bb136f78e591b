export interface CachedPage {
  html: string
  rulesVersion: number
  storedAt: number
}

/** Serves what it once stored until it is purged, whatever has changed meanwhile. Keyed by address, device, visitor. */
export class PageCache {
  private readonly pages = new Map<string, CachedPage>()

  static key(path: string, device: string, visitor: string): string {
    return `${device} ${visitor} ${path}`
  }

  get(key: string): CachedPage | undefined {
    return this.pages.get(key)
  }

  put(key: string, page: CachedPage): void {
    this.pages.set(key, page)
  }

  /** Purges the copies of the given paths, or everything. Returns how many copies went. */
  purge(paths?: readonly string[]): number {
    const doomed = [...this.pages.keys()].filter((key) => !paths || paths.includes(pathOf(key)))
    for (const key of doomed) this.pages.delete(key)
    return doomed.length
  }
}

/** A purge of a path means every query of it too. */
const pathOf = (key: string) => key.split(' ')[2]!.split('?', 1)[0]!
