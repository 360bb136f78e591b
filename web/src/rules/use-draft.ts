import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { toast } from 'sonner'
import type { Drafts, RuleInput, RuleView } from '@unvelt/contract'
import { call } from '../api/client.js'
import { draftsChanged, keys } from '../api/queries.js'
import { plural } from '../figures/format.js'
import { didThis } from '../undo/undo.js'

/** Drafts rules in a way that can be taken back: the drafts are then as they were before. */
export function useDraft(site: number) {
  const client = useQueryClient()
  const [isPending, setPending] = useState(false)
  const path = `/sites/${site}/drafts`
  const show = (drafts: Drafts) => {
    client.setQueryData(keys.drafts(site), drafts)
    return draftsChanged(client, site)
  }
  const restore = async (before: Drafts | undefined) => {
    let now = await call<Drafts>('DELETE', path)
    if (before && before.rules.length > 0) now = await call<Drafts>('POST', path, { rules: before.rules.map(inputOf) })
    await show(now)
  }
  const remembering = async (what: string, change: () => Promise<Drafts>) => {
    const before = client.getQueryData<Drafts>(keys.drafts(site))
    setPending(true)
    try {
      const now = await change()
      // It can be taken back as soon as it is done, whatever is still to be fetched for it.
      didThis(what, () => restore(before))
      void show(now)
    } catch (error) {
      toast.error((error as Error).message)
    } finally {
      setPending(false)
    }
  }
  return {
    isPending,
    add: (rules: RuleInput[]) =>
      void remembering(`${plural(rules.length, 'rule')} drafted`, () => call<Drafts>('POST', path, { rules })),
    clear: () => void remembering('All drafts were thrown away', () => call<Drafts>('DELETE', path)),
  }
}

/** What of a shown draft was put in by hand. */
function inputOf(rule: RuleView): RuleInput {
  const { addon, feature, file, setting, effect, until, order, value, place, condition, note } = rule
  return JSON.parse(
    JSON.stringify({ addon, feature, file, setting, effect, until, order, value, place, condition, note }),
  ) as RuleInput
}
