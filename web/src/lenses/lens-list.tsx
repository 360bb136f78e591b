import { useState } from 'react'
import type { Lens, Site } from '@unvelt/contract'
import { useChangeLenses, useLenses } from '../api/queries.js'
import { plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { lazily } from '../parts/lazily.js'
import { Failed, Loading } from '../parts/notice.js'
import { toast } from '../parts/toast.js'
import { didThis } from '../undo/undo.js'
import { lensWords } from './lens-words.js'

const LensForm = lazily(async () => (await import('./lens-form.js')).LensForm)

/** The lenses of a site; those that no sweep was made through can be changed and removed. */
export function LensList({ site }: { site: Site }) {
  const lenses = useLenses(site.id)
  const change = useChangeLenses(site.id)
  const [open, setOpen] = useState<number | 'new' | null>(null)
  if (lenses.isError) return <Failed error={lenses.error} retry={() => void lenses.refetch()} />
  if (!lenses.data) return <Loading what="the lenses" />
  const remove = (lens: Lens) =>
    change.mutate(
      { do: 'remove', id: lens.id },
      {
        onError: (error) => toast.error(error.message),
        onSuccess: () =>
          didThis(`${lens.name} is removed.`, () => change.mutateAsync({ do: 'bring back', id: lens.id })),
      },
    )
  return (
    <section className="px-4 pt-4" aria-label="Lenses">
      <div className="flex flex-wrap items-end justify-between gap-x-6 gap-y-2">
        <div className="min-w-0 flex-1 basis-72">
          <h2 className="text-[17px]">Lenses</h2>
          <p className="text-soft">
            How pages are looked at. A lens that a sweep was made through stays as it is, so that its figures go on
            meaning what they meant; what signs its visitor in can be renewed.
          </p>
        </div>
        <Button onClick={() => setOpen('new')} disabled={open === 'new'}>
          Add a lens
        </Button>
      </div>
      {open === 'new' && <LensForm site={site} lens={lenses.data[0]!} onClose={() => setOpen(null)} />}
      <ul className="mt-3 border-t border-line">
        {lenses.data.map((lens) => (
          <li key={lens.id} className="border-b border-line/60 py-2">
            <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
              <p className="min-w-0 flex-1 basis-60">
                <span className="font-semibold">{lens.name}</span>
                <span className="figures block text-[12.5px] text-soft">{lensWords(lens)}</span>
              </p>
              <span className="figures text-soft">
                {lens.sweeps === 0 ? 'no sweep yet' : plural(lens.sweeps, 'sweep')}
              </span>
              <Button
                weight="quiet"
                disabled={lens.sweeps > 0 && lens.visitor === 'signed-out'}
                onClick={() => setOpen(lens.id)}
              >
                {lens.sweeps > 0 && lens.visitor !== 'signed-out' ? 'Renew sign-in' : 'Change'}
              </Button>
              <Button weight="quiet" disabled={lens.sweeps > 0 || change.isPending} onClick={() => remove(lens)}>
                Remove
              </Button>
            </div>
            {open === lens.id && <LensForm site={site} lens={lens} change onClose={() => setOpen(null)} />}
          </li>
        ))}
      </ul>
    </section>
  )
}
