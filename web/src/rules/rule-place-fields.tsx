import { useState } from 'react'
import type { UseFormReturn } from 'react-hook-form'
import type { Site } from '@unvelt/contract'
import { usePages } from '../api/queries.js'
import { plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { Choice } from '../parts/choice.js'
import { Field } from '../parts/field.js'
import { lazily } from '../parts/lazily.js'
import { Lines } from '../parts/lines.js'
import { exceptProblem, pathProblem } from './paths.js'
import type { NamedPages, RuleValues } from './rule-values.js'

const PageSetWindow = lazily(async () => (await import('../page-sets/page-set-window.js')).PageSetWindow)

const LEVELS: [RuleValues['level'], string][] = [
  ['everywhere', 'everywhere, the back office too'],
  ['public', 'all public pages'],
  ['office', 'the back office'],
  ['kind', 'pages of a kind'],
  ['path', 'addresses like'],
  ['named', 'pages that have a name together'],
  ['set', 'these pages'],
]

interface RulePlaceFieldsProps {
  site: Site
  form: UseFormReturn<RuleValues>
  values: RuleValues
  sets: NamedPages[]
  takesExceptions: boolean
}

/** Where a rule holds, and where not. */
export function RulePlaceFields({ site, form, values, sets, takesExceptions }: RulePlaceFieldsProps) {
  const { data: pages = [] } = usePages(site.id)
  const [isNaming, setNaming] = useState(false)
  const { errors } = form.formState
  const known = new Set(pages.map(({ path }) => path))
  const chosen = sets.find(({ name }) => name === values.set)
  return (
    <>
      <div className="grid grid-cols-2 gap-4">
        <Choice label="Where" field={form.register('level')} choices={LEVELS} />
        {values.level === 'kind' && (
          <Choice
            label="Kind"
            field={form.register('kind')}
            choices={[
              ['', 'choose one'],
              ...[...new Set(pages.map(({ kind }) => kind))].map((kind): [string, string] => [kind, kind]),
            ]}
          />
        )}
        {values.level === 'path' && (
          <Field
            label="Addresses"
            hint="For instance /events/*; a URLPattern path"
            error={errors.pattern}
            field={form.register('pattern', {
              validate: (pattern, { level }) =>
                level !== 'path' || pattern.startsWith('/') || 'Expected a path that begins with /.',
            })}
          />
        )}
        {values.level === 'named' && (
          <div className="grid content-start gap-1">
            <Choice
              label="Called"
              field={form.register('set')}
              choices={[
                ['', sets.length === 0 ? 'none has a name yet' : 'choose one'],
                ...sets.map(({ name, paths }): [string, string] => [name, `${name} (${plural(paths.length, 'page')})`]),
              ]}
            />
            <Button weight="quiet" className="h-7 justify-self-start px-0" onClick={() => setNaming(true)}>
              Name some pages …
            </Button>
            {chosen && <span className="truncate text-[13px] text-soft">{chosen.paths.join(', ')}</span>}
          </div>
        )}
      </div>
      {(values.level === 'set' || values.level === 'page') && (
        <Lines
          label="Pages, a path on each line"
          rows={4}
          error={errors.paths}
          field={form.register('paths', {
            validate: (text, { level }) => (level !== 'set' && level !== 'page') || pathProblem(text, known),
          })}
        />
      )}
      {takesExceptions && (
        <Lines
          label="But not on"
          hint="A path, or addresses like /events/*, on each line. There it is kept, against any other rule on it."
          rows={2}
          error={errors.except}
          field={form.register('except', { validate: (text) => exceptProblem(text, known) })}
        />
      )}
      {isNaming && (
        <PageSetWindow
          siteId={site.id}
          set={null}
          onClose={() => setNaming(false)}
          onSaved={(name) => form.setValue('set', name)}
        />
      )}
    </>
  )
}
