import { Link } from 'react-router'
import type { Site, SweepRequest } from '@unvelt/contract'
import { useLenses, type useStartSweep } from '../api/queries.js'
import { plural } from '../figures/format.js'
import { lensWords } from '../lenses/lens-words.js'
import { Button } from '../parts/button.js'
import { NumberInput } from '../parts/number-input.js'
import { toast } from '../parts/toast.js'
import { PageChoice } from './page-choice.js'
import { isWhole, requestOf, type Choice } from './page-choice-request.js'
import { SweepPreview } from './sweep-preview.js'

const MOST_REPEATS = 50

/** What was chosen; no lenses are the first of all. */
export interface SweepChoice {
  lenses: number[] | null
  repeats: number
  withoutRules: boolean
  pages: Choice
}

interface SweepFormProps {
  site: Site
  choice: SweepChoice
  onChoose: (choice: SweepChoice) => void
  start: ReturnType<typeof useStartSweep>
  onDone: () => void
}

/** What a sweep is to be like: through which lenses, of which pages, and how often each is read. */
export function SweepForm({ site, choice, onChoose, start, onDone }: SweepFormProps) {
  const { data: lenses = [], isPending } = useLenses(site.id)
  const { repeats, withoutRules, pages } = choice
  const choose = (some: Partial<SweepChoice>) => onChoose({ ...choice, ...some })
  const lensIds = choice.lenses ?? lenses.slice(0, 1).map(({ id }) => id)
  const toggle = (id: number) =>
    choose({ lenses: lensIds.includes(id) ? lensIds.filter((other) => other !== id) : [...lensIds, id] })
  const begin = () => {
    onDone()
    const request: SweepRequest = { repeats, lensIds, withoutRules, ...requestOf(pages) }
    start.mutate(request, { onError: (error) => toast.error(error.message) })
  }
  const ready = repeats >= 1 && repeats <= MOST_REPEATS && lensIds.length > 0 && isWhole(pages)
  return (
    <>
      <div className="min-h-0 flex-1 overflow-auto p-4">
        <h2 className="text-[17px]">A sweep</h2>
        <fieldset className="mt-2">
          <legend className="text-[12.5px] text-soft">Through these lenses, one after the other</legend>
          <ul className="mt-1 grid gap-px">
            {lenses.map((lens) => (
              <li key={lens.id}>
                <label className="flex cursor-pointer gap-2.5 px-1 py-1 hover:bg-wash">
                  <input
                    type="checkbox"
                    className="mt-1"
                    checked={lensIds.includes(lens.id)}
                    onChange={() => toggle(lens.id)}
                  />
                  <span>
                    <span className="font-medium">{lens.name}</span>
                    <span className="figures block text-[12.5px] text-soft">{lensWords(lens)}</span>
                  </span>
                </label>
              </li>
            ))}
          </ul>
        </fieldset>
        <label className="mt-3 flex items-center gap-2.5 px-1">
          <input
            type="checkbox"
            checked={withoutRules}
            onChange={(event) => choose({ withoutRules: event.target.checked })}
          />
          With all live rules set aside
        </label>
        <PageChoice site={site} choice={pages} onChange={(pages) => choose({ pages })} />
        <label className="mt-3 flex items-center gap-3">
          Read each page
          <NumberInput value={repeats} least={1} most={MOST_REPEATS} onChange={(repeats) => choose({ repeats })} />
          times
        </label>
      </div>
      <div className="border-t border-line px-4 pt-3 pb-4">
        <SweepPreview site={site} lensIds={isPending ? null : lensIds} choice={pages} repeats={repeats} />
        <div className="mt-3 flex items-center justify-between">
          <Link to={`/sites/${site.id}/settings`} onClick={() => onDone()} className="text-verdigris hover:underline">
            Lenses …
          </Link>
          <Button weight="main" disabled={!ready} onClick={begin}>
            {lensIds.length > 1 ? `Start ${plural(lensIds.length, 'sweep')}` : 'Start the sweep'}
          </Button>
        </div>
      </div>
    </>
  )
}
