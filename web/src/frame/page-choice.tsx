import { RadioGroup } from 'radix-ui'
import type { SampleRequest, Site } from '@unvelt/contract'
import { usePages } from '../api/queries.js'
import { plural } from '../figures/format.js'
import { NumberInput } from '../parts/number-input.js'

export type Choice = { which: 'all' } | { which: 'kinds'; kinds: string[] } | { which: 'sample'; sample: SampleRequest }

const FIRST_SAMPLE: SampleRequest = { mostVisited: 3, drawn: 2, seed: 1 }

interface PageChoiceProps {
  site: Site
  choice: Choice
  onChange(choice: Choice): void
}

/** Which pages a sweep reads: all, those of some kinds, or a sample. */
export function PageChoice({ site, choice, onChange }: PageChoiceProps) {
  const { data: pages = [] } = usePages(site.id)
  const counts = new Map<string, number>()
  for (const { kind } of pages) counts.set(kind, (counts.get(kind) ?? 0) + 1)
  const kinds = [...counts.keys()].sort()
  const change = (which: string) =>
    onChange(
      which === 'kinds'
        ? { which, kinds: [] }
        : which === 'sample'
          ? { which, sample: FIRST_SAMPLE }
          : { which: 'all' },
    )
  return (
    <fieldset className="mt-3">
      <legend className="text-[12.5px] text-soft">Pages</legend>
      <RadioGroup.Root value={choice.which} onValueChange={change} aria-label="Pages" className="mt-1 flex gap-px">
        {(
          [
            ['all', 'All of them'],
            ['kinds', 'Some kinds'],
            ['sample', 'A sample'],
          ] as const
        ).map(([which, words]) => (
          <RadioGroup.Item
            key={which}
            value={which}
            className="flex-1 border-b-2 border-transparent py-1 hover:bg-wash data-[state=checked]:border-verdigris data-[state=checked]:bg-wash data-[state=checked]:font-semibold"
          >
            {words}
          </RadioGroup.Item>
        ))}
      </RadioGroup.Root>
      {choice.which === 'kinds' && (
        <div className="mt-2 flex flex-wrap gap-x-4 gap-y-1">
          {kinds.map((kind) => (
            <label key={kind} className="flex items-center gap-1.5">
              <input
                type="checkbox"
                className="accent-verdigris"
                checked={choice.kinds.includes(kind)}
                onChange={() =>
                  onChange({
                    which: 'kinds',
                    kinds: choice.kinds.includes(kind)
                      ? choice.kinds.filter((other) => other !== kind)
                      : [...choice.kinds, kind],
                  })
                }
              />
              {kind} <span className="figures text-soft">{counts.get(kind)}</span>
            </label>
          ))}
        </div>
      )}
      {choice.which === 'sample' && <SampleFields sample={choice.sample} kinds={counts} onChange={onChange} />}
    </fieldset>
  )
}

interface SampleFieldsProps {
  sample: SampleRequest
  kinds: ReadonlyMap<string, number>
  onChange(choice: Choice): void
}

function SampleFields({ sample, kinds, onChange }: SampleFieldsProps) {
  const set = (part: Partial<SampleRequest>) => onChange({ which: 'sample', sample: { ...sample, ...part } })
  const perKind = sample.mostVisited + sample.drawn
  const count = [...kinds.values()].reduce((sum, size) => sum + Math.min(size, perKind), 0)
  return (
    <div className="mt-2 grid gap-2">
      <label className="flex items-center gap-3">
        Of each kind the
        <NumberInput
          value={sample.mostVisited}
          least={0}
          most={1000}
          onChange={(mostVisited) => set({ mostVisited })}
        />
        most visited
      </label>
      <label className="flex items-center gap-3">
        and
        <NumberInput value={sample.drawn} least={0} most={1000} onChange={(drawn) => set({ drawn })} />
        drawn from the rest with seed
        <NumberInput label="Seed" value={sample.seed} least={0} most={1_000_000} onChange={(seed) => set({ seed })} />
      </label>
      <p className="text-[12.5px] text-soft">
        At most {plural(count, 'page')}, those for signed-in people and the back office included where the lens sees
        them. The same seed draws the same pages.
      </p>
    </div>
  )
}
