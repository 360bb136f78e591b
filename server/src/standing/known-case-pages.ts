import { CasePages, NO_PAGES, sitePages, type CostColumns, type SitePages } from '@unvelt/core'
import type { Page } from '@unvelt/contract'
import type { SummedCells } from '../ledger/cell-sums.js'

/** Visits to the pages that were read, and how many these are. */
export interface SiteViews {
  total: number
  pages: number
}

interface Known {
  site: SitePages
  words: Uint8Array
  pages: CasePages
}

/**
 * What add-ons cost by use, as it was summed up last, for as long as nothing that it is made of has changed: most of what is
 * written of a site, a draft say, changes neither its pages nor what is known of their use. Goes when the sweep's cells go.
 */
export class KnownCasePages {
  private readonly bySweep = new WeakMap<SummedCells, SitePages>()
  private readonly byPayer = new WeakMap<CostColumns, Known>()

  /** The pages of a site; where they are what they were, the same object as before. */
  site(sums: SummedCells | null, pages: readonly Page[], views: SiteViews): SitePages {
    const now = sitePages(pages, views, sums?.pages ?? [])
    const before = sums && this.bySweep.get(sums)
    if (before && areAlike(before, now)) return before
    if (sums) this.bySweep.set(sums, now)
    return now
  }

  /** @param words For each page of the site the place in `USE_WORDS` of the add-on's word there; not to be written to later. */
  of(site: SitePages, columns: CostColumns | undefined, words: Uint8Array): CasePages {
    if (!columns) return NO_PAGES
    const known = this.byPayer.get(columns)
    if (known?.site === site && Buffer.compare(known.words, words) === 0) return known.pages
    const pages = new CasePages(site, columns, words)
    this.byPayer.set(columns, { site, words, pages })
    return pages
  }
}

const areAlike = (a: SitePages, b: SitePages): boolean =>
  a.paths.length === b.paths.length &&
  sameBytes(a.at, b.at) &&
  sameBytes(a.isPublic, b.isPublic) &&
  sameBytes(a.inThousand, b.inThousand) &&
  a.paths.every((path, n) => path === b.paths[n])

const bytesOf = ({ buffer, byteOffset, byteLength }: ArrayBufferView) => Buffer.from(buffer, byteOffset, byteLength)
const sameBytes = (a: ArrayBufferView, b: ArrayBufferView) => bytesOf(a).equals(bytesOf(b))
