import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import type { Drafts, RuleInput } from '@unvelt/contract'
import { ApiError, call } from '../api/client.js'
import { draftsChanged, keys } from '../api/queries.js'
import { plural } from '../figures/format.js'
import { toast } from '../parts/toast.js'
import { didThis } from '../undo/undo.js'
import { inputOf } from './rule-rows.js'

/** The server takes no more in one go. */
const MOST_AT_ONCE = 2_000

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
    const rules = (before?.rules ?? []).map(inputOf)
    for (let n = 0; n < rules.length; n += MOST_AT_ONCE)
      now = await call<Drafts>('POST', path, { rules: rules.slice(n, n + MOST_AT_ONCE) })
    await show(now)
  }
  const remembering = async (what: string, change: () => Promise<Drafts>, throws = false) => {
    const before = client.getQueryData<Drafts>(keys.drafts(site))
    setPending(true)
    try {
      const now = await change()
      // It can be taken back as soon as it is done, whatever is still to be fetched for it.
      didThis(what, () => restore(before))
      void show(now)
    } catch (error) {
      if (throws) throw error
      toast.error((error as Error).message)
    } finally {
      setPending(false)
    }
  }
  return {
    isPending,
    add: (rules: RuleInput[]) =>
      void remembering(`${plural(rules.length, 'rule')} drafted`, () => call<Drafts>('POST', path, { rules })),
    /** As `add`, for what is to come after it. @throws ApiError where it is refused. */
    addNow: (rules: RuleInput[]) =>
      remembering(`${plural(rules.length, 'rule')} drafted`, () => call<Drafts>('POST', path, { rules }), true),
    /**
     * Withdraws some drafts and adds others, as one thing to be taken back.
     * @param throws Whoever wrote them hears of a refusal, and keeps what was written; else it is told in passing.
     */
    replace: (rules: RuleInput[], withdrawn: string[], what: string, throws = false) =>
      remembering(
        what,
        async () => {
          // What comes is taken first, so that nothing is lost where it is refused.
          for (let n = 0; n < rules.length; n += MOST_AT_ONCE)
            await call<Drafts>('POST', path, { rules: rules.slice(n, n + MOST_AT_ONCE) })
          for (const id of withdrawn)
            await call<Drafts>('DELETE', `${path}/${id}`).catch((error: unknown) => {
              // A draft on the same is in its place already.
              if (!(error instanceof ApiError && error.status === 404)) throw error
            })
          return call<Drafts>('GET', path)
        },
        throws,
      ),
    /** Takes a rule file in. @throws ApiError with what does not fit in it. */
    takeIn: (file: object, partly: boolean, what: string) =>
      remembering(what, () => call<Drafts>('POST', `${path}/file`, { file, partly }), true),
    clear: () => void remembering('All drafts were thrown away', () => call<Drafts>('DELETE', path)),
  }
}
