import { useState } from 'react'
import { Button } from '../parts/button.js'
import type { Change, Names } from './variant-draft.js'

const SORTS: [Change['kind'], string][] = [
  ['without', 'without an add-on'],
  ['version', 'with one of the shelf'],
  ['feature', 'with a feature off'],
  ['setting', 'with a setting’s value'],
]

interface Props {
  names: Names
  chosen: readonly Change[]
  onChoose(change: Change): void
}

/** What is to be other: first of which sort, then which. */
export function ChangeChoice({ names, chosen, onChoose }: Props) {
  const [sort, setSort] = useState<Change['kind']>('without')
  const [setting, setSetting] = useState<{ key: string; value: string } | null>(null)
  const choices = choicesOf(sort, names)
  const taken = new Set(chosen.map((change) => JSON.stringify(change)))
  const about = names.addOns
    .flatMap((addOn) => addOn.settings.map((each) => ({ ...each, addon: addOn.slug })))
    .find((each) => setting && setting.key === JSON.stringify([each.addon, each.slug]))
  const fits = about && isWithin(setting!.value, about.least, about.most)
  return (
    <div className="flex flex-wrap items-center gap-2">
      <select
        aria-label="What is other"
        value={sort}
        onChange={(event) => {
          setSort(event.target.value as Change['kind'])
          setSetting(null)
        }}
        className="h-8 border border-line bg-paper px-2"
      >
        {SORTS.map(([key, name]) => (
          <option key={key} value={key}>
            {name}
          </option>
        ))}
      </select>
      <select
        aria-label="Which"
        value={setting?.key ?? ''}
        disabled={choices.length === 0}
        onChange={(event) => {
          const { value } = event.target
          const choice = choices.find(({ key }) => key === value)
          if (!choice) return
          if (choice.change) onChoose(choice.change)
          else setSetting({ key: value, value: '' })
        }}
        className="h-8 max-w-72 min-w-0 border border-line bg-paper px-2"
      >
        <option value="">{choices.length === 0 ? 'the site offers none' : 'choose …'}</option>
        {choices
          .filter(({ key }) => !taken.has(key))
          .map(({ key, name }) => (
            <option key={key} value={key}>
              {name}
            </option>
          ))}
      </select>
      {about && (
        <>
          <input
            aria-label="Value"
            inputMode="numeric"
            value={setting!.value}
            placeholder={`${about.least} to ${about.most}`}
            onChange={(event) => setSetting({ key: setting!.key, value: event.target.value })}
            className="h-8 w-24 border border-line bg-paper px-2 text-right"
          />
          <Button
            disabled={!fits}
            onClick={() => {
              onChoose({ kind: 'setting', addon: about.addon, setting: about.slug, value: Number(setting!.value) })
              setSetting(null)
            }}
          >
            Set it
          </Button>
        </>
      )}
    </div>
  )
}

const isWithin = (text: string, least: number, most: number): boolean =>
  /^-?\d{1,9}$/.test(text.trim()) && Number(text) >= least && Number(text) <= most

/** Of a setting its value is still to be said. */
function choicesOf(sort: Change['kind'], { addOns, shelf }: Names): { key: string; name: string; change?: Change }[] {
  const here = addOns.filter(({ gone }) => !gone).sort((a, b) => a.name.localeCompare(b.name))
  const choice = (name: string, change: Change) => ({ key: JSON.stringify(change), name, change })
  switch (sort) {
    case 'without':
      return here
        .filter(({ kind, active }) => kind !== 'theme' && active)
        .map(({ slug, name }) => choice(name, { kind: 'without', addon: slug }))
    case 'version':
      return [...shelf]
        .sort((a, b) => a.name.localeCompare(b.name))
        .map(({ slug, name, version, installed }) =>
          choice(`${name} ${version}${installed ? ` for ${installed}` : ''}`, {
            kind: 'version',
            addon: slug,
            version,
          }),
        )
    case 'feature':
      return here.flatMap(({ slug, name, features }) =>
        features
          .filter(({ on }) => on)
          .map((feature) =>
            choice(`${name}: ${feature.name}`, { kind: 'feature', addon: slug, feature: feature.slug }),
          ),
      )
    case 'setting':
      return here.flatMap(({ slug, name, settings }) =>
        settings
          .filter(({ perPage }) => perPage)
          .map((setting) => ({ key: JSON.stringify([slug, setting.slug]), name: `${name}: ${setting.name}` })),
      )
  }
}
