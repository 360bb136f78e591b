import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import type { AddOn, AddOnChange, NewAddOn, Question, UseFactView, UseWordInput, VerdictInput } from '@unvelt/contract'
import { call } from '../api/client.js'
import { keys } from '../api/queries.js'
import { plural } from '../figures/format.js'
import { toast } from '../parts/toast.js'
import { didThis } from '../undo/undo.js'

const WHO = 'unvelt-who'
/** Whoever decides writes the name once; it is remembered on this machine. */
export const rememberedWho = () => localStorage.getItem(WHO) ?? ''
export const rememberWho = (who: string) => localStorage.setItem(WHO, who)

/** One after the other: an answer that comes late must not show what an earlier one had not yet changed. */
let last: Promise<unknown> = Promise.resolve()

/** Everything that can be said of an add-on, each in a way that can be taken back. */
export function useChangeAddOn(site: number) {
  const client = useQueryClient()
  const at = (slug: string) => `/sites/${site}/add-ons/${encodeURIComponent(slug)}`
  /** Most answers are the whole inventory; what only follows from it is fetched again where it is looked at. */
  const fresh = (answer: unknown) => {
    if (!isInventory(answer)) return client.invalidateQueries({ queryKey: keys.site(site) })
    client.setQueryData([...keys.site(site), 'add-ons'], answer)
    void client.invalidateQueries({ queryKey: [...keys.site(site), 'add-on'] })
    return client.invalidateQueries({ queryKey: keys.standing(site) })
  }
  const [underWay, setUnderWay] = useState(0)
  // No mutation of the query library: of several at once it would only tell of the last, and keys are quick.
  const perform = async (does: () => Promise<unknown>): Promise<boolean> => {
    setUnderWay((n) => n + 1)
    const turn = last.then(does).then(fresh)
    last = turn.catch(() => {})
    try {
      await turn
      return true
    } catch (error) {
      toast.error((error as Error).message)
      return false
    } finally {
      setUnderWay((n) => n - 1)
    }
  }
  const doing = (
    what: string,
    does: () => Promise<unknown>,
    undo: () => Promise<unknown>,
    done?: (well: boolean) => void,
  ): void =>
    void perform(async () => {
      const answer = await does()
      didThis(what, async () => {
        if (!(await perform(undo))) throw new Error('It could not be taken back.')
      })
      return answer
    }).then(done)
  return {
    isPending: underWay > 0,
    decide({ name, slug }: AddOn, input: VerdictInput, done?: (well: boolean) => void): void {
      if (input.who) rememberWho(input.who)
      doing(
        `${name}: ${input.verdict}`,
        () => call('POST', `${at(slug)}/verdicts`, input),
        () => call('DELETE', `${at(slug)}/verdicts/newest`),
        done,
      )
    },
    /** Writes words over what the site tells; the words that stood there come back. */
    write(addOn: AddOn, change: AddOnChange, done?: (well: boolean) => void): void {
      const before = Object.fromEntries(
        (Object.keys(change) as (keyof AddOnChange)[]).map((fact) => [
          fact,
          addOn.from[fact] === 'hand' ? addOn[fact] : fact === 'jobs' ? [] : '',
        ]),
      )
      doing(
        `${addOn.name} was changed`,
        () => call('PATCH', at(addOn.slug), change),
        () => call('PATCH', at(addOn.slug), before),
        done,
      )
    },
    add(entry: NewAddOn, done?: (well: boolean) => void): void {
      doing(
        `${entry.name || entry.slug} was added`,
        () => call('POST', `/sites/${site}/add-ons`, entry),
        () => call('DELETE', at(entry.slug)),
        done,
      )
    },
    /** Says what is known of use; what was said by hand before comes back. */
    sayUse({ name, slug }: Pick<AddOn, 'name' | 'slug'>, input: UseWordInput, facts: readonly UseFactView[]): void {
      const before = facts.filter(
        ({ source, pageId }) =>
          source === 'hand' && (input.pageIds ? pageId !== null && input.pageIds.includes(pageId) : pageId === null),
      )
      doing(
        `${name}: ${input.word ?? 'nothing said'} ${input.pageIds ? `on ${plural(input.pageIds.length, 'page')}` : 'everywhere'}`,
        () => call('POST', `${at(slug)}/use`, { ...input, who: rememberedWho() }),
        async () => {
          await call('POST', `${at(slug)}/use`, { ...input, word: null })
          for (const { pageId, word, because } of before)
            await call('POST', `${at(slug)}/use`, { word, because, ...(pageId !== null && { pageIds: [pageId] }) })
        },
      )
    },
    ask(
      { name, slug }: Pick<AddOn, 'name' | 'slug'>,
      asks: string,
      whom: string,
      done?: (well: boolean) => void,
    ): void {
      let asked: Question | undefined
      doing(
        `A question about ${name} is open`,
        async () => {
          const questions = await call<Question[]>('POST', `${at(slug)}/questions`, { asks, whom })
          asked = [...questions].sort((a, b) => b.id - a.id)[0]
        },
        () => call('DELETE', `/sites/${site}/questions/${asked!.id}`),
        done,
      )
    },
    answer: (id: number, answer: string, done?: () => void) =>
      void perform(() => call('POST', `/sites/${site}/questions/${id}/answer`, { answer })).then(
        (well) => well && done?.(),
      ),
  }
}

const isInventory = (answer: unknown): boolean =>
  Array.isArray(answer) && (answer[0] as AddOn | undefined)?.slug !== undefined && 'verdict' in (answer[0] as AddOn)
