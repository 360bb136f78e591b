import { viewsInThousand, type SiteVisits } from '../picture/pictures-over-pages.js'
import { couldWeigh, type CouldWeigh, type WeighedFile } from './could-weigh.js'

/** A file as pages load it. */
export interface LoadedFile {
  url: string
  pageIds: readonly number[]
}

/** A file with what it could weigh, over all pages that load it. Bytes of its body. */
export interface FileOverPages<F extends WeighedFile> extends CouldWeigh {
  file: F
  pageIds: readonly number[]
  /** Bytes in 1,000 page views, each of which fetches it: by both, and by packing alone. */
  spared: number
  sparedByPacking: number
}

/**
 * The fewest pages, as far as that is found quickly, that load every file of a list: always the one that loads most of what is still
 * missing (greedy set cover; Chvátal, A greedy heuristic for the set-covering problem, Math. Oper. Res. 4, 1979).
 * @param may Pages that can be looked at at all.
 */
export function pagesWithAll(files: readonly LoadedFile[], may: ReadonlySet<number>): number[] {
  const missing = new Map<number, Set<string>>()
  for (const { url, pageIds } of files)
    for (const id of pageIds)
      if (may.has(id)) {
        const known = missing.get(id)
        if (known) known.add(url)
        else missing.set(id, new Set([url]))
      }
  const chosen: number[] = []
  for (;;) {
    let best: [id: number, urls: Set<string>] | null = null
    for (const entry of missing) if (entry[1].size > (best?.[1].size ?? 0)) best = entry
    if (!best) return chosen
    chosen.push(best[0])
    const taken = [...best[1]]
    for (const urls of missing.values()) for (const url of taken) urls.delete(url)
  }
}

/** What each weighed file would spare over all pages, what spares most first. */
export function filesOverPages<F extends WeighedFile & { url: string }>(
  loaded: readonly LoadedFile[],
  weighed: ReadonlyMap<string, F>,
  pages: ReadonlyMap<number, { views: number | null }>,
  site: SiteVisits,
): FileOverPages<F>[] {
  return loaded
    .flatMap(({ url, pageIds }) => {
      const file = weighed.get(url)
      if (!file) return []
      const gain = couldWeigh(file)
      const comes = pageIds.reduce((sum, id) => sum + (pages.has(id) ? viewsInThousand(pages.get(id)!, site) : 0), 0)
      return [
        {
          file,
          pageIds,
          ...gain,
          spared: (gain.byPacking + gain.byMinifying) * comes,
          sparedByPacking: gain.byPacking * comes,
        },
      ]
    })
    .sort((a, b) => b.spared - a.spared || b.file.bytes - a.file.bytes)
}
