import { RadioGroup } from 'radix-ui'
import { useCallback } from 'react'
import type { SampleRequest, Site } from '@unvelt/contract'
import { usePages } from '../api/queries.js'
import { NumberInput } from '../parts/number-input.js'
import type { Choice } from './page-choice-request.js'
import { PagesByHand } from './pages-by-hand.js'
import { PagesOfSitemap } from './pages-of-sitemap.js'

const FIRST: Record<Choice['which'], Choice> = {
  all: { which: 'all' },
  kinds: { which: 'kinds', kinds: [] },
  hand: { which: 'hand', ids: [] },
  sitemap: { which: 'sitemap', ids: [] },
  sample: { which: 'sample', sample: { mostVisited: 3, drawn: 2, seed: 1 } },
}

const WAYS: [Choice['which'], string][] = [
  ['all', 'All'],
  ['kinds', 'By kind'],
  ['hand', 'By hand'],
  ['sitemap', 'By sitemap'],
  ['sample', 'A sample'],
]

interface PageChoiceProps {
  site: Site
  choice: Choice
  /** The same function from one drawing to the next. */
  onChange(choice: Choice): void
}

/** Which pages a sweep reads: all, those of some kinds, ticked ones, those in the sitemap, or a sample. */
export function PageChoice({ site, choice, onChange }: PageChoiceProps) {
  const { data: pages = [] } = usePages(site.id)
  const ofSitemap = useCallback((ids: number[]) => onChange({ which: 'sitemap', ids }), [onChange])
  const counts = new Map<string, number>()
  for (const { kind } of pages) counts.set(kind, (counts.get(kind) ?? 0) + 1)
  return (
    <fieldset className="mt-3">
      <legend className="text-[12.5px] text-soft">Pages</legend>
      <RadioGroup.Root
        value={choice.which}
        onValueChange={(which) => onChange(FIRST[which as Choice['which']])}
        aria-label="Pages"
        className="mt-1 flex gap-px"
      >
        {WAYS.map(([which, words]) => (
          <RadioGroup.Item
            key={which}
            value={which}
            className="flex-1 border-b-2 border-transparent py-1 whitespace-nowrap hover:bg-wash data-[state=checked]:border-verdigris data-[state=checked]:bg-wash data-[state=checked]:font-semibold"
          >
            {words}
          </RadioGroup.Item>
        ))}
      </RadioGroup.Root>
      {choice.which === 'kinds' && <Kinds counts={counts} kinds={choice.kinds} onChange={onChange} />}
      {choice.which === 'hand' && (
        <PagesByHand pages={pages} ids={choice.ids} onChange={(ids) => onChange({ which: 'hand', ids })} />
      )}
      {choice.which === 'sitemap' && <PagesOfSitemap site={site} onChange={ofSitemap} />}
      {choice.which === 'sample' && <SampleFields sample={choice.sample} onChange={onChange} />}
    </fieldset>
  )
}

interface KindsProps {
  counts: ReadonlyMap<string, number>
  kinds: string[]
  onChange(choice: Choice): void
}

function Kinds({ counts, kinds, onChange }: KindsProps) {
  const toggle = (kind: string) =>
    onChange({
      which: 'kinds',
      kinds: kinds.includes(kind) ? kinds.filter((other) => other !== kind) : [...kinds, kind],
    })
  return (
    <div className="mt-2 flex flex-wrap gap-x-4 gap-y-1">
      {[...counts.keys()].sort().map((kind) => (
        <label key={kind} className="flex items-center gap-1.5">
          <input type="checkbox" checked={kinds.includes(kind)} onChange={() => toggle(kind)} />
          {kind} <span className="figures text-soft">{counts.get(kind)}</span>
        </label>
      ))}
    </div>
  )
}

interface SampleFieldsProps {
  sample: SampleRequest
  onChange(choice: Choice): void
}

function SampleFields({ sample, onChange }: SampleFieldsProps) {
  const set = (part: Partial<SampleRequest>) => onChange({ which: 'sample', sample: { ...sample, ...part } })
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
      <p className="text-[12.5px] text-soft">The same seed draws the same pages.</p>
    </div>
  )
}
