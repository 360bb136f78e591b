import { useState } from 'react'
import type { Site } from '@unvelt/contract'
import { ApiError, call } from '../api/client.js'
import { useSites } from '../api/queries.js'
import { areCopies, carriedOver } from '../copies/carried-over.js'
import { plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { chooseFile } from '../parts/choose-file.js'
import { toast } from '../parts/toast.js'
import { Window } from '../parts/window.js'
import { useDraft } from './use-draft.js'

const MOST_SHOWN = 100

/** A file that was refused, and what is wrong with it. */
interface Refused {
  name: string
  title: string
  errors: { field: string; message: string }[]
  /** What was read; null where it could not be. */
  file: object | null
}

/** Rules as a file, saved and taken in as drafts; and those that are live on another site, with what does not fit here named. */
export function RuleFileButtons({ site }: { site: Site }) {
  const draft = useDraft(site.id)
  const { data: sites = [] } = useSites()
  const others = sites.filter(({ id }) => id !== site.id)
  // What is carried most often comes first: from a copy to what it is one of, and the other way.
  const inOrder = [...others].sort((a, b) => Number(areCopies(site, b)) - Number(areCopies(site, a)))
  const [refused, setRefused] = useState<Refused | null>(null)
  const take = async (file: object, name: string, partly: boolean) => {
    try {
      await draft.takeIn(file, partly, `The rules of ${name} are drafted`)
      setRefused(null)
    } catch (error) {
      const errors = error instanceof ApiError ? (error.problem.errors ?? []) : []
      setRefused({ name, title: (error as Error).message, errors, file })
    }
  }
  const read = async (file: File) => {
    try {
      await take(JSON.parse(await file.text()) as object, file.name, false)
    } catch (error) {
      setRefused({ name: file.name, title: `It is no JSON: ${(error as Error).message}`, errors: [], file: null })
    }
  }
  const copy = async (other: Site) => {
    try {
      const file = await call<object>('GET', `/sites/${other.id}/rules/file`)
      if ((file as { rules: unknown[] }).rules.length === 0) toast(`No rule is live on ${other.name}.`)
      else await take(areCopies(site, other) ? carriedOver(file, other.address, site.address) : file, other.name, false)
    } catch (error) {
      toast.error((error as Error).message)
    }
  }
  const unfit = refused ? new Set(refused.errors.map(({ field }) => /^rules\/\d+/.exec(field)?.[0] ?? '')) : null
  const rules = (refused?.file as { rules?: unknown[] } | null)?.rules
  // Of a file that is none, nothing can be taken; of one whose rules do not fit this site, the others can.
  const fit =
    unfit && Array.isArray(rules) && !/^The file can’t be read/.test(refused!.title) ? rules.length - unfit.size : 0
  return (
    <>
      <a
        href={`/api/sites/${site.id}/rules/file?with=drafts`}
        download
        className="inline-flex h-8 items-center px-2 font-medium text-verdigris hover:underline"
      >
        Save as a file
      </a>
      {others.length > 0 && (
        <select
          aria-label="Copy the rules of another site"
          value=""
          disabled={draft.isPending}
          onChange={({ target }) => {
            const other = others.find(({ id }) => String(id) === target.value)
            if (other) void copy(other)
          }}
          className="h-8 w-44 border border-line bg-sheet px-2"
        >
          <option value="" disabled>
            From another site …
          </option>
          {inOrder.map((other) => (
            <option key={other.id} value={other.id}>
              {other.name}
              {areCopies(site, other) &&
                ` · ${other.copyOf === site.id ? 'its copy' : site.copyOf === other.id ? 'its original' : 'another copy'}, ${new URL(other.address).host}`}
            </option>
          ))}
        </select>
      )}
      <Button
        weight="quiet"
        disabled={draft.isPending}
        onClick={() => chooseFile('.json,application/json', (file) => void read(file))}
      >
        Take a file in …
      </Button>
      {refused && (
        <Window
          title={`${refused.name} was not taken in`}
          note={refused.title}
          width={640}
          onClose={() => setRefused(null)}
        >
          {refused.errors.length > 0 && (
            <ol aria-label="What is wrong" className="mt-3 max-h-[50dvh] overflow-auto border-t border-line">
              {refused.errors.slice(0, MOST_SHOWN).map(({ field, message }, n) => (
                <li key={n} className="grid grid-cols-[180px_minmax(0,1fr)] gap-3 border-b border-line/60 py-1.5">
                  <code className="truncate text-soft" title={field}>
                    /{field}
                  </code>
                  {message}
                </li>
              ))}
            </ol>
          )}
          {refused.errors.length > MOST_SHOWN && (
            <p className="mt-1 text-soft">And {plural(refused.errors.length - MOST_SHOWN, 'fault')} more.</p>
          )}
          <div className="mt-4 flex gap-2">
            {fit > 0 && (
              <Button
                weight="main"
                disabled={draft.isPending}
                onClick={() => void take(refused.file!, refused.name, true)}
              >
                Take the {plural(fit, 'rule')} that {fit === 1 ? 'fits' : 'fit'}
              </Button>
            )}
            <Button weight="quiet" onClick={() => setRefused(null)}>
              Take nothing
            </Button>
          </div>
        </Window>
      )}
    </>
  )
}
