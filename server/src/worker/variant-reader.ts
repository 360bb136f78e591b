import { planRewrite, resolve, rulesOnCopy, withFoundPayers, type RewritePlan, type Rule } from '@unvelt/core'
import { visitOf, type LensRow } from '../lens/lens.model.js'
import { rulePage, type PageRow } from '../page/page.model.js'
import { DraftsAtSite } from '../site-http/drafts-at-site.js'
import type { MeasuringWish } from '../site-http/measuring-header.js'
import type { SiteRow } from '../site/site.model.js'
import type { SweepRow, Variant } from '../sweep/sweep.model.js'
import type { PageCopy } from './page-copy.js'

/** How a page comes about under a variant. */
export interface VariantWay {
  rules: MeasuringWish['rules']
  /** What is done to the page on its way to the browser, where the site does not do it itself. */
  rewrite?: (at: URL) => RewritePlan | null
}

interface Subject {
  sweep: SweepRow
  site: SiteRow
  page: PageRow
  lens: LensRow
  key: string | null
}

/** A site keeps few drafts at a time; where there are more variants each is forgotten once it was read. */
const MOST_KEPT = 8

/**
 * Reads a page under the variants of a sweep: by rules that the site keeps, or, where it keeps none, passed through core's
 * rewriter, all variants alike, so that they differ in the rules alone.
 */
export class VariantReader {
  private readonly kept = new Map<string, DraftsAtSite>()

  constructor(
    private readonly subject: Subject,
    private readonly copy: PageCopy,
  ) {}

  async read<T>(variant: Variant, read: (way: VariantWay) => Promise<T>): Promise<T> {
    const { drafts, rules } = variant
    const { site, sweep } = this.subject
    if (site.connector?.measuring?.drafts !== true) {
      if (!sweep.variants.some((other) => other.drafts)) return read({ rules })
      return read({ rules, rewrite: (at) => (drafts ? this.plan(drafts.rules, at) : null) })
    }
    if (!drafts) return read({ rules })
    const own = await this.ownRules(drafts.rules)
    const atSite = this.atSite(variant.name, { ...drafts, rules: own })
    try {
      return await atSite.reading((name) => read({ rules: `draft-${name!}` }))
    } finally {
      if (sweep.variants.length > MOST_KEPT) {
        await atSite.forget()
        this.kept.delete(variant.name)
      }
    }
  }

  async forget(): Promise<void> {
    for (const drafts of this.kept.values()) await drafts.forget()
    this.kept.clear()
  }

  /** The rules as they hold where the page is read. */
  private async ownRules(rules: readonly Rule[]): Promise<Rule[]> {
    const { sweep, page } = this.subject
    return sweep.onCopies ? rulesOnCopy(rules, rulePage(page), await this.copy.path()) : [...rules]
  }

  private atSite(name: string, { rules, addOns }: NonNullable<Variant['drafts']>): DraftsAtSite {
    const { site, key } = this.subject
    const kept = this.kept.get(name) ?? new DraftsAtSite({ site, key, rules, addOns }, { mechanism: 'site' })
    this.kept.set(name, kept)
    return kept
  }

  private plan(rules: NonNullable<Variant['drafts']>['rules'], at: URL): RewritePlan | null {
    const { page, lens, sweep } = this.subject
    if (at.pathname !== new URL(page.path, at).pathname) return null
    const sources = withFoundPayers(
      sweep.sources,
      rules.map(({ addon }) => addon),
    )
    return planRewrite({ effects: resolve(rules, rulePage(page), visitOf(lens)), sources, pageUrl: at.href })
  }
}
