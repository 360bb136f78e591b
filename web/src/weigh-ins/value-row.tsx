import { useState } from 'react'
import type { AddOn } from '@unvelt/contract'
import { Button } from '../parts/button.js'
import { rowOfValues, type Change } from './variant-draft.js'

interface Props {
  addOns: readonly AddOn[]
  most: number
  onRow(changes: Change[]): void
}

/** A setting tried along a row of values: a variant for each. */
export function ValueRow({ addOns, most, onRow }: Props) {
  const settings = addOns.flatMap(({ slug, name, gone, settings }) =>
    gone ? [] : settings.filter(({ perPage }) => perPage).map((each) => ({ ...each, addon: slug, of: name })),
  )
  const [chosen, setChosen] = useState(0)
  const [text, setText] = useState('')
  const setting = settings[chosen]
  if (!setting) return null
  const values = rowOfValues(text, setting.least, setting.most)
  const problem =
    text.trim() === ''
      ? null
      : values === null
        ? `Expected whole numbers from ${setting.least} to ${setting.most}.`
        : values.length < 2 || values.length > most
          ? `Expected 2 to ${most} values.`
          : null
  return (
    <section aria-label="A row of values" className="border-t border-line pt-3">
      <h2 className="text-[17px]">Or a setting along a row of values</h2>
      <div className="mt-1.5 flex flex-wrap items-center gap-2">
        <select
          aria-label="Setting"
          value={chosen}
          onChange={(event) => setChosen(Number(event.target.value))}
          className="h-9 border border-line bg-sheet px-2"
        >
          {settings.map(({ addon, slug, of, name, value }, n) => (
            <option key={`${addon} ${slug}`} value={n}>
              {of}: {name} ({value} now)
            </option>
          ))}
        </select>
        <input
          aria-label="Values"
          value={text}
          placeholder="5, 10, 20, 50"
          onChange={(event) => setText(event.target.value)}
          className="h-9 w-44 border border-line bg-sheet px-2"
        />
        <Button
          disabled={values === null || problem !== null || values.length === 0}
          onClick={() =>
            onRow(values!.map((value) => ({ kind: 'setting', addon: setting.addon, setting: setting.slug, value })))
          }
        >
          Make these the variants
        </Button>
        {problem && (
          <span role="alert" className="text-[13px] text-plum">
            {problem}
          </span>
        )}
      </div>
    </section>
  )
}
