import { outsiderPayer, type TwoFigures } from '@unvelt/core'
import type { ComparedPayer } from '@unvelt/contract'
import { nameless, PAGE_PAYERS } from '../ledger/nameless.js'
import type { InventoryEntry } from '../sweep/sweep.model.js'

type Named = Pick<ComparedPayer, 'name' | 'kind'>
type Became = Pick<ComparedPayer, 'change' | 'from' | 'to'>

/** Payers with their names, and what became of each between two sweeps; those that cost nothing on either side, if they changed. */
export function payerChanges(
  payers: readonly ({ slug: string } & TwoFigures)[],
  then: readonly InventoryEntry[],
  now: readonly InventoryEntry[],
  names: ReadonlyMap<string, Named>,
): ComparedPayer[] {
  const was = new Map(then.map((entry) => [entry.slug, entry]))
  const is = new Map(now.map((entry) => [entry.slug, entry]))
  const isTold = was.size > 0 && is.size > 0
  return payers.map(({ slug, ...figures }) => {
    const known = names.get(slug) ?? is.get(slug) ?? was.get(slug) ?? PAGE_PAYERS.find((own) => own.slug === slug)
    const { name, kind } = known ?? { ...nameless(slug), name: slug.replace(outsiderPayer(''), '') }
    return {
      slug,
      name,
      kind,
      ...figures,
      ...became(isTold ? was.get(slug) : undefined, isTold ? is.get(slug) : undefined),
    }
  })
}

/** A sweep of which the site told no inventory says nothing of who came and went. */
function became(was: InventoryEntry | undefined, is: InventoryEntry | undefined): Became {
  const [from, to] = [was?.version ?? null, is?.version ?? null]
  const of = (change: ComparedPayer['change']): Became => ({ change, from, to })
  if (!was && !is) return of(null)
  if (!was) return of('come')
  if (!is) return of('gone')
  if (was.active !== is.active) return of(is.active ? 'switched on' : 'switched off')
  return of(from === to ? null : 'updated')
}
