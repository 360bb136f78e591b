import { useState } from 'react'
import type { PageSet } from '@unvelt/contract'
import { useAddPageSet, usePageSets, useRemovePageSet } from '../api/page-sets.js'
import { plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { lazily } from '../parts/lazily.js'
import { toast } from '../parts/toast.js'
import { didThis } from '../undo/undo.js'

const PageSetWindow = lazily(async () => (await import('./page-set-window.js')).PageSetWindow)

/** Pages that have a name together, and how many rules say it. */
export function PageSetsPart({ siteId }: { siteId: number }) {
  const { data: sets = [] } = usePageSets(siteId)
  const [open, setOpen] = useState<PageSet | 'new' | null>(null)
  const remove = useRemovePageSet(siteId)
  const add = useAddPageSet(siteId)
  const forget = (set: PageSet) =>
    remove.mutate(set.id, {
      onSuccess: () =>
        didThis(`${set.name} is forgotten`, async () => {
          await add.mutateAsync({ name: set.name, note: set.note, paths: set.paths })
        }),
      onError: (error) => toast.error(error.message),
    })
  return (
    <section aria-label="Named pages">
      <div className="flex flex-wrap items-end gap-x-4 gap-y-1 px-4 pt-6 pb-2">
        <h2 className="text-[17px]">Named pages</h2>
        <p className="min-w-0 grow basis-60 text-[13px] text-soft max-md:basis-full">
          {sets.length === 0 && 'Pages that belong together can have a name, for rules to say instead of a list.'}
        </p>
        <Button onClick={() => setOpen('new')}>Name some pages …</Button>
      </div>
      {sets.length > 0 && (
        <ul aria-label="Named pages">
          {sets.map((set) => (
            <li key={set.id} className="flex items-center gap-4 border-t border-line/60 px-4 py-1">
              <b className="shrink-0 font-semibold">{set.name}</b>
              <span className="figures shrink-0" title={set.paths.join('\n')}>
                {plural(set.paths.length, 'page')}
                {set.gone.length > 0 && <span className="text-plum">, {set.gone.length} of them gone</span>}
              </span>
              <span className="min-w-0 flex-1 truncate text-soft">{set.note}</span>
              <span className="shrink-0 text-[13px] text-soft">{usedWords(set)}</span>
              <span className="flex shrink-0">
                <Button
                  weight="quiet"
                  className="h-7 px-2"
                  aria-label={`Change ${set.name}`}
                  onClick={() => setOpen(set)}
                >
                  Change
                </Button>
                <Button
                  weight="quiet"
                  className="h-7 px-2"
                  aria-label={`Forget ${set.name}`}
                  disabled={set.liveRules + set.drafts > 0 || remove.isPending}
                  title={set.liveRules + set.drafts > 0 ? 'Rules still say its name.' : undefined}
                  onClick={() => forget(set)}
                >
                  Forget
                </Button>
              </span>
            </li>
          ))}
        </ul>
      )}
      {open !== null && (
        <PageSetWindow siteId={siteId} set={open === 'new' ? null : open} onClose={() => setOpen(null)} />
      )}
    </section>
  )
}

function usedWords({ liveRules, drafts }: PageSet): string {
  const parts = [
    liveRules > 0 ? `${plural(liveRules, 'rule')} live` : '',
    drafts > 0 ? plural(drafts, 'draft') : '',
  ].filter(Boolean)
  return parts.length === 0 ? 'no rule says it' : parts.join(', ')
}
