/** Payers that are no add-on and have no sheet; each is of a kind of its own, named alike. */
export const PAGE_OWN: readonly string[] = ['content', 'cms', 'rest', 'glued', 'unassigned']
