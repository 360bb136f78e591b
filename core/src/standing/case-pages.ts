import { USE_WORDS, type UseWord } from '../use/use-word.js'

/** The pages of a site, in one order for all its add-ons. */
export interface SitePages {
  paths: readonly string[]
  /** 1 for a page that visitors see, 0 for one of the back office. */
  isPublic: Uint8Array
  /** Of a thousand page views of the whole site, those of each page. */
  inThousand: Float64Array
  /** Where the pages stand here that the cost columns speak of; -1 for one that is not shown. */
  at: Int32Array
}

/** What an add-on costs on pages; entry n of every column belongs together. Bytes, ms and counts. */
export interface CostColumns {
  /** Places in `SitePages.at`. */
  page: ArrayLike<number>
  values: Readonly<Record<Summed, ArrayLike<number>>>
}

const SUMMED = ['requests', 'transferBytes', 'serverMs', 'mainThreadMs'] as const
type Summed = (typeof SUMMED)[number]

/** What some pages cost: summed up as they are, and in a thousand page views of the whole site. Bytes, ms and counts. */
export interface PageGroup extends Record<Summed, number> {
  pages: number
  /** `views` are those of these pages. */
  inThousand: Record<Summed, number> & { views: number }
}

type Which = (word: UseWord, isPublic: boolean) => boolean

/** Code that works for this long on the main thread of a page is worth holding. In ms. */
const HEAVY_MS = 20
const VISITS = 1000

/**
 * @param views Visits to all pages that were read, and how many pages these are; without known visits all weigh the same.
 * @param told The pages that the cost columns speak of.
 */
export function sitePages(
  pages: readonly { id: number; path: string; area: string; views: number | null }[],
  views: { total: number; pages: number },
  told: readonly number[],
): SitePages {
  const at = new Map(pages.map(({ id }, index) => [id, index]))
  return {
    at: Int32Array.from(told, (id) => at.get(id) ?? -1),
    paths: pages.map(({ path }) => path),
    isPublic: Uint8Array.from(pages, ({ area }) => Number(area === 'public')),
    inThousand: Float64Array.from(
      pages,
      (page) => VISITS * (views.total > 0 ? (page.views ?? 0) / views.total : 1 / Math.max(1, views.pages)),
    ),
  }
}

/**
 * The pages that one add-on costs something, summed up by what is known of its use there: a site has hundreds of add-ons on
 * thousands of pages, and what is asked of them is almost always a sum.
 */
export class CasePages {
  /** How many pages. */
  readonly length: number
  /** Public pages on which it works long on the main thread and is not known to be of no use. */
  readonly heavy = { group: emptyGroup(), mostMs: 0 }
  /** By word, those of the back office first. */
  private readonly groups = Array.from({ length: 2 * USE_WORDS.length }, emptyGroup)

  /** @param words For each page of the site the place in `USE_WORDS` of the add-on's word there. */
  constructor(
    private readonly site: SitePages,
    private readonly columns: CostColumns,
    private readonly words: ArrayLike<number>,
  ) {
    const { mainThreadMs } = columns.values
    let length = 0
    for (let n = 0; n < columns.page.length; n++) {
      const page = site.at[columns.page[n]!]!
      if (page < 0) continue
      length++
      const word = words[page]!
      const isPublic = site.isPublic[page]!
      this.add(this.groups[2 * word + isPublic]!, n, page)
      if (isPublic && word !== NOT_SEEN && mainThreadMs[n]! >= HEAVY_MS) {
        this.add(this.heavy.group, n, page)
        this.heavy.mostMs = Math.max(this.heavy.mostMs, mainThreadMs[n]!)
      }
    }
    this.length = length
  }

  /** What the pages cost on which its use is known so. */
  of(which: Which = () => true): PageGroup {
    const all = emptyGroup()
    this.groups.forEach((group, n) => {
      if (group.pages === 0 || !which(USE_WORDS[n >> 1]!, n % 2 === 1)) return
      all.pages += group.pages
      all.inThousand.views += group.inThousand.views
      for (const measure of SUMMED) {
        all[measure] += group[measure]
        all.inThousand[measure] += group.inThousand[measure]
      }
    })
    return all
  }

  has(which: Which): boolean {
    return this.groups.some(({ pages }, n) => pages > 0 && which(USE_WORDS[n >> 1]!, n % 2 === 1))
  }

  paths(which: Which): string[] {
    const paths: string[] = []
    if (!this.has(which)) return paths
    for (let n = 0; n < this.columns.page.length; n++) {
      const page = this.site.at[this.columns.page[n]!]!
      if (page >= 0 && which(USE_WORDS[this.words[page]!]!, this.site.isPublic[page] === 1))
        paths.push(this.site.paths[page]!)
    }
    return paths
  }

  private add(group: PageGroup, at: number, page: number): void {
    const { requests, transferBytes, serverMs, mainThreadMs } = this.columns.values
    const share = this.site.inThousand[page]!
    const views = group.inThousand
    group.pages++
    views.views += share
    group.requests += requests[at]!
    views.requests += requests[at]! * share
    group.transferBytes += transferBytes[at]!
    views.transferBytes += transferBytes[at]! * share
    group.serverMs += serverMs[at]!
    views.serverMs += serverMs[at]! * share
    group.mainThreadMs += mainThreadMs[at]!
    views.mainThreadMs += mainThreadMs[at]! * share
  }
}

const NOT_SEEN = USE_WORDS.indexOf('not seen')

function emptyGroup(): PageGroup {
  const none = { requests: 0, transferBytes: 0, serverMs: 0, mainThreadMs: 0 }
  return { pages: 0, ...none, inThousand: { views: 0, ...none } }
}

/** An add-on that costs no page anything. */
export const NO_PAGES = new CasePages(
  sitePages([], { total: 0, pages: 0 }, []),
  { page: [], values: { requests: [], transferBytes: [], serverMs: [], mainThreadMs: [] } },
  [],
)
