import { useState } from 'react'
import type { LeftoverView } from '@unvelt/contract'
import { bytes, plural } from '../figures/format.js'
import { LastTouched } from './last-touched.js'
import { RulesAboutIt } from './rules-about-it.js'
import { Button } from '../parts/button.js'
import { Window } from '../parts/window.js'
import { useDo } from './site-steps.js'
import type { StepProps } from './step-list.js'

const TYPES: Record<string, string> = {
  table: 'Table',
  option: 'Setting',
  task: 'Task',
  file: 'File',
  tag: 'Tag',
  block: 'Block',
}

/** What is left of it at the site. Nothing is ticked by itself. */
export function LeftoversStep({ siteId, sheet, isNow }: StepProps) {
  const { ask, isPending } = useDo(siteId, sheet.id)
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set())
  const [isAsking, setAsking] = useState(false)
  const { doing, snapshot } = sheet
  const leftovers = [...sheet.leftovers].sort(doubtfulFirst)
  if (sheet.isInstalled) return null
  if (leftovers.length === 0) return <RulesAboutIt siteId={siteId} rules={sheet.rules} />
  const ids = leftovers.map(({ id }) => id).filter((id) => chosen.has(id))
  const toggle = (id: string) => {
    const next = new Set(chosen)
    if (!next.delete(id)) next.add(id)
    setChosen(next)
  }
  // What somebody still uses, by the look of it, is ticked one by one.
  const plain = leftovers.filter(({ sureness }) => sureness !== 'look first').map(({ id }) => id)
  const doubtful = leftovers.length - plain.length
  const all = ids.length > 0 && ids.length >= plain.length
  const rows = leftovers.filter(({ id }) => chosen.has(id)).reduce((sum, one) => sum + (one.rows ?? 0), 0)
  const reasons = [...new Set(leftovers.flatMap(({ because }) => because))]
  return (
    <>
      <ul aria-label="Leftovers" className="mt-1 max-h-72 overflow-auto border border-line/70">
        {leftovers.map((one) => {
          const { id, type, name, bytes: size, rows: count, path, because } = one
          return (
            <li key={id} className="border-b border-line/50 px-2 py-1 last:border-0">
              <label className="flex items-center gap-3">
                <input type="checkbox" checked={chosen.has(id)} onChange={() => toggle(id)} />
                <span className="w-16 text-soft">{TYPES[type] ?? type}</span>
                <span className="min-w-0 flex-1 truncate">
                  <span className="font-semibold">{name}</span>
                  {path !== null && <span className="text-soft"> on {path}</span>}
                  {reasons.length > 1 && because.length > 0 && (
                    <span className="text-[13px] text-soft"> · {because.join(', ')}</span>
                  )}
                </span>
                <LastTouched one={one} />
                <span className="figures w-36 text-right text-[13px] text-soft">
                  {count !== null && `${plural(count, 'row')}, `}
                  {bytes(size)}
                </span>
              </label>
            </li>
          )
        })}
      </ul>
      <div className="mt-1.5 flex items-center gap-2">
        <Button
          weight="quiet"
          disabled={plain.length === 0 && ids.length === 0}
          onClick={() => setChosen(new Set(all ? [] : plain))}
        >
          {all
            ? 'Choose none'
            : doubtful > 0
              ? `Choose all but the ${doubtful} to look at first`
              : `Choose all ${leftovers.length}`}
        </Button>
        <Button
          weight="danger"
          disabled={!isNow || isPending || doing !== null || ids.length === 0}
          onClick={() => setAsking(true)}
        >
          Remove {ids.length === 0 ? 'what is chosen' : plural(ids.length, 'thing')} …
        </Button>
        <span className="text-[13px] text-soft">
          {reasons.length === 1 ? capital(reasons[0]!) : 'The site says that these were its own.'}
        </span>
      </div>
      <RulesAboutIt siteId={siteId} rules={sheet.rules} />
      {isAsking && (
        <Window
          title={`Remove ${plural(ids.length, 'leftover')}?`}
          note={`${rows > 0 ? `${plural(rows, 'row')} go with them. ` : ''}They are in snapshot ${snapshot?.id ?? ''}, and come back when it is put back from there.`}
          width={520}
          onClose={() => setAsking(false)}
        >
          <div className="mt-4 flex justify-end">
            <Button
              weight="danger"
              onClick={() => {
                setAsking(false)
                setChosen(new Set())
                ask('clear', ids)
              }}
            >
              Remove them
            </Button>
          </div>
        </Window>
      )}
    </>
  )
}

const doubtfulFirst = (a: LeftoverView, b: LeftoverView) =>
  Number(b.sureness === 'look first') - Number(a.sureness === 'look first')

const capital = (text: string) => `${text.charAt(0).toUpperCase()}${text.slice(1)}.`
