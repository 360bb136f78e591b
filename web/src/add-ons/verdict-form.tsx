import { useState } from 'react'
import { VERDICTS, type AddOn, type Site, type Verdict, type VerdictWord } from '@unvelt/contract'
import { dateTime } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { rememberedWho, useChangeAddOn } from './change-add-on.js'

/** What was decided, by whom, when and why; and the next decision. */
export function VerdictForm({ site, addOn, verdicts }: { site: Site; addOn: AddOn; verdicts: Verdict[] }) {
  const change = useChangeAddOn(site.id)
  const [open, setOpen] = useState(false)
  const [verdict, setVerdict] = useState<VerdictWord>('keep')
  const [why, setWhy] = useState('')
  const [who, setWho] = useState(rememberedWho)
  const now = addOn.verdict
  return (
    <section aria-label="Verdict">
      <h2 className="text-[17px]">Verdict</h2>
      <p className="mt-1.5 text-[19px] font-semibold">{now.verdict}</p>
      {now.verdict !== 'undecided' && (
        <p className="text-soft">
          {now.why && <span className="block text-ink">{now.why}</span>}
          {now.who || 'somebody'}, {dateTime(now.at)}
        </p>
      )}
      {open ? (
        <form
          className="mt-3 grid gap-2"
          onSubmit={(event) => {
            event.preventDefault()
            change.decide(addOn, { verdict, why: why.trim(), who: who.trim() }, () => {
              setOpen(false)
              setWhy('')
            })
          }}
        >
          <label className="grid gap-1 text-[13px]">
            Verdict
            <select
              value={verdict}
              onChange={(event) => setVerdict(event.target.value as VerdictWord)}
              className="h-8 border border-line bg-paper px-2"
            >
              {VERDICTS.map((word) => (
                <option key={word}>{word}</option>
              ))}
            </select>
          </label>
          <label className="grid gap-1 text-[13px]">
            Why
            <textarea
              value={why}
              rows={2}
              onChange={(event) => setWhy(event.target.value)}
              className="border border-line bg-paper px-2 py-1"
            />
          </label>
          <label className="grid gap-1 text-[13px]">
            Who decides
            <input
              value={who}
              onChange={(event) => setWho(event.target.value)}
              className="h-8 border border-line bg-paper px-2"
            />
          </label>
          <div className="flex gap-2">
            <Button type="submit" weight="main" disabled={change.isPending}>
              Decide
            </Button>
            <Button weight="quiet" onClick={() => setOpen(false)}>
              Not now
            </Button>
          </div>
        </form>
      ) : (
        <Button className="mt-2" onClick={() => setOpen(true)}>
          {now.verdict === 'undecided' ? 'Decide …' : 'Decide anew …'}
        </Button>
      )}
      {verdicts.length > 1 && (
        <details className="mt-2 text-[13px]">
          <summary className="cursor-pointer text-verdigris">Earlier verdicts</summary>
          <ul className="mt-1">
            {verdicts.slice(1).map((each) => (
              <li key={each.at}>
                {each.verdict}{' '}
                <span className="text-soft">{[each.why, each.who, dateTime(each.at)].filter(Boolean).join(' · ')}</span>
              </li>
            ))}
          </ul>
        </details>
      )}
    </section>
  )
}
