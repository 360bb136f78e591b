import { useQueryClient } from '@tanstack/react-query'
import { toast } from 'sonner'
import type { Drafts, RuleInput, RuleView } from '@unvelt/contract'
import { call } from '../api/client.js'
import { keys, useChangeDrafts } from '../api/queries.js'
import { plural } from '../figures/format.js'
import { didThis } from '../undo/undo.js'

/** Drafts rules in a way that can be taken back: the drafts are then as they were before. */
export function useDraft(site: number) {
  const client = useQueryClient()
  const change = useChangeDrafts(site)
  const restore = async (before: Drafts | undefined) => {
    const path = `/sites/${site}/drafts`
    let now = await call<Drafts>('DELETE', path)
    if (before && before.rules.length > 0) now = await call<Drafts>('POST', path, { rules: before.rules.map(inputOf) })
    client.setQueryData(keys.drafts(site), now)
    await client.invalidateQueries({ queryKey: keys.ledger(site) })
  }
  const remembering = (what: string, mutation: Parameters<typeof change.mutate>[0]) => {
    const before = client.getQueryData<Drafts>(keys.drafts(site))
    change.mutate(mutation, {
      onSuccess: () => didThis(what, () => restore(before)),
      onError: (error) => toast.error(error.message),
    })
  }
  return {
    isPending: change.isPending,
    add: (rules: RuleInput[]) => remembering(`${plural(rules.length, 'rule')} drafted`, { do: 'add', rules }),
    remove: (id: string) => remembering('A draft was thrown away', { do: 'remove', id }),
    clear: () => remembering('All drafts were thrown away', { do: 'clear' }),
  }
}

/** What of a shown draft was put in by hand. */
function inputOf({ addon, feature, file, setting, effect, until, order, value, place, note }: RuleView): RuleInput {
  return JSON.parse(
    JSON.stringify({ addon, feature, file, setting, effect, until, order, value, place, note }),
  ) as RuleInput
}
