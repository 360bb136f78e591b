import type { Page } from '@unvelt/contract'

/** Neighbouring pages of one kind. */
export interface KindGroup {
  kind: string
  from: number
  to: number
}

/** The pages ordered by kind, the site's own order within a kind kept; and where each page stood before. */
export function orderByKind(pages: Page[]): number[] {
  const kinds = [...new Set(pages.map((page) => page.kind))]
  return pages
    .map((_, index) => index)
    .sort((a, b) => kinds.indexOf(pages[a]!.kind) - kinds.indexOf(pages[b]!.kind) || a - b)
}

export function kindGroups(pages: Page[]): KindGroup[] {
  const groups: KindGroup[] = []
  pages.forEach(({ kind }, index) => {
    const last = groups.at(-1)
    if (last?.kind === kind) last.to = index
    else groups.push({ kind, from: index, to: index })
  })
  return groups
}
