import { useForm, useWatch } from 'react-hook-form'
import { toast } from 'sonner'
import type { RuleView, Site } from '@unvelt/contract'
import { useAddOns, useDrafts, useLedger, usePages, usePrediction } from '../api/queries.js'
import { plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { Choice } from '../parts/choice.js'
import { Field } from '../parts/field.js'
import { useRemembered } from '../parts/remembered.js'
import { Window } from '../parts/window.js'
import { holdCost, viewsOf } from './hold-costs.js'
import { inputOf } from './rule-rows.js'
import { choicesFor, partsOf, pathsIn, ruleOf, valuesOf, type RuleValues } from './rule-values.js'
import { SavingLine } from './saving.js'
import { useDraft } from './use-draft.js'
import { choiceKey, effectWords } from './words.js'

const LEVELS: [RuleValues['level'], string][] = [
  ['everywhere', 'everywhere, the back office too'],
  ['public', 'all public pages'],
  ['office', 'the back office'],
  ['kind', 'pages of a kind'],
  ['path', 'addresses like'],
  ['set', 'these pages'],
]

interface RuleFormProps {
  site: Site
  /** Null for a new one. */
  rule: RuleView | null
  onClose(): void
}

/** A rule with all that it can say, drafted as it is written. */
export function RuleForm({ site, rule, onClose }: RuleFormProps) {
  const { data: addOns = [] } = useAddOns(site.id)
  const { data: pages = [] } = usePages(site.id)
  const { data: ledger } = useLedger(site.id, null)
  const [author, setAuthor] = useRemembered('unvelt.author', '')
  const draft = useDraft(site.id)
  const { data: drafted } = useDrafts(site.id)
  const drafts = drafted?.rules ?? []
  const form = useForm<RuleValues>({ defaultValues: valuesOf(rule, author) })
  const values = useWatch({ control: form.control }) as RuleValues
  const addOn = addOns.find(({ slug }) => slug === values.addon)
  const ruled = addOns
    .filter(({ gone, source }) => !gone && (!site.hasConnector || source === 'connector'))
    .sort((a, b) => a.name.localeCompare(b.name))
  const choices = choicesFor(site.effects, addOn, values.part)
  const whole = ruleOf(values)
  const prediction = usePrediction(site.id, whole ? [whole] : [], ledger?.sweep?.id)
  const touched = new Set(prediction.data?.perPage.map(({ path }) => path))
  const cost = whole && holdCost(whole.effect, addOn, viewsOf(pages, touched))
  const { errors } = form.formState
  const save = form.handleSubmit(async (written) => {
    const input = ruleOf(written)
    if (!input) return
    setAuthor(written.author.trim())
    // What it was about before is no longer meant by it.
    const isSame = rule && sameThing(inputOf(rule), input)
    const isDraft = rule && drafts.some(({ id }) => id === rule.id)
    const gone = rule && !isSame && !isDraft ? [{ ...inputOf(rule), removed: true }] : []
    await draft.replace(
      [...gone, input],
      isDraft ? [rule.id] : [],
      rule ? 'The changed rule is drafted' : 'The rule is drafted',
    )
    onClose()
  })
  return (
    <Window title={rule ? 'Change a rule' : 'A new rule'} width={760} onClose={onClose}>
      <form
        noValidate
        aria-label="Rule"
        onSubmit={(event) => void save(event).catch((error: Error) => toast.error(error.message))}
        className="mt-3 grid max-h-[72dvh] gap-4 overflow-auto"
      >
        <div className="grid grid-cols-2 gap-4">
          <Choice
            label="Add-on"
            field={form.register('addon', {
              required: true,
              onChange: () => {
                form.setValue('part', '')
                form.setValue('effect', '')
              },
            })}
            choices={[['', 'choose one'], ...ruled.map(({ slug, name }): [string, string] => [slug, name])]}
          />
          <Choice
            label="Of it"
            field={form.register('part', { onChange: () => form.setValue('effect', '') })}
            choices={partsOf(addOn)}
          />
          <Choice
            label="Is"
            field={form.register('effect', { required: true })}
            choices={[
              ['', 'choose what becomes of it'],
              ...choices.map((choice): [string, string] => [
                choiceKey(choice),
                choice.effect === 'set' ? 'set to a value' : effectWords(choice),
              ]),
            ]}
          />
          {values.effect === 'set' ? (
            <Field
              label="Value"
              hint={valueHint(addOn, values.part)}
              error={errors.value}
              field={form.register('value', {
                validate: (value, { effect }) =>
                  effect !== 'set' || /^-?\d{1,9}$/.test(value) || 'Expected a whole number.',
              })}
            />
          ) : (
            <span />
          )}
          <Choice label="Where" field={form.register('level')} choices={LEVELS.map(([key, name]) => [key, name])} />
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
        </div>
        {(values.level === 'set' || values.level === 'page') && (
          <label className="grid gap-1">
            <span className="font-semibold">Pages, a path on each line</span>
            <textarea
              {...form.register('paths', {
                validate: (text, { level }) =>
                  (level !== 'set' && level !== 'page') || pathProblem(text, new Set(pages.map(({ path }) => path))),
              })}
              rows={4}
              spellCheck={false}
              className="w-full border border-line bg-sheet px-2.5 py-1.5 text-[15px]"
            />
            {errors.paths && (
              <span role="alert" className="text-[13px] text-plum">
                {errors.paths.message}
              </span>
            )}
          </label>
        )}
        <div className="grid grid-cols-2 gap-4">
          <Choice
            label="At"
            field={form.register('device')}
            choices={[
              ['', 'any device'],
              ['desk', 'a desk'],
              ['handset', 'a handset'],
            ]}
          />
          <Choice
            label="For"
            field={form.register('visitor')}
            choices={[
              ['', 'everybody'],
              ['signed-out', 'those who have not signed in'],
              ['signed-in', 'people who have signed in'],
            ]}
          />
          <Field label="Note" hint="Why it is there" error={errors.note} field={form.register('note')} />
          <div className="grid grid-cols-2 gap-4">
            <Field label="By" error={errors.author} field={form.register('author')} />
            <Field
              label="Until"
              type="date"
              hint="Then its going is proposed"
              error={errors.expires}
              field={form.register('expires')}
            />
          </div>
        </div>
        <p role="status" className="min-h-10 text-[13.5px]">
          {!whole && <span className="text-soft">Say what, what becomes of it, and where.</span>}
          {whole && !prediction.error && !prediction.data && ledger?.sweep && (
            <span className="text-soft">Working out what it spares …</span>
          )}
          {whole && prediction.error && <span className="text-plum">{prediction.error.message}</span>}
          {whole && !prediction.error && prediction.data && (
            <>
              <span className="text-soft">Holds on {plural(prediction.data.pages, 'page')} that are known. </span>
              {whole.effect !== 'keep' && <SavingLine prediction={prediction.data} />}
            </>
          )}
        </p>
        {cost !== null && (
          <p role="note" className="-mt-2 border-l-2 border-plum pl-2 text-[13.5px]">
            {cost}
          </p>
        )}
        <div className="flex gap-2">
          <Button weight="main" type="submit" disabled={!whole || draft.isPending}>
            Draft it
          </Button>
          <Button weight="quiet" onClick={onClose}>
            Back
          </Button>
        </div>
      </form>
    </Window>
  )
}

const sameThing = (a: object, b: object) => {
  const key = ({ addon, feature, file, setting, place, condition }: Record<string, unknown>) =>
    JSON.stringify([addon, feature, file, setting, place, condition])
  return key(a as Record<string, unknown>) === key(b as Record<string, unknown>)
}

function pathProblem(text: string, known: ReadonlySet<string>): string | true {
  const paths = pathsIn(text)
  if (paths.length === 0) return 'Name a page at least.'
  const wrong = paths.find((path) => !path.startsWith('/'))
  if (wrong !== undefined) return `Line ${paths.indexOf(wrong) + 1}: expected a path that begins with /.`
  const unknown = paths.find((path) => !known.has(path))
  return unknown === undefined || `${unknown} is no page that is known.`
}

function valueHint(
  addOn: { settings: { slug: string; least: number; most: number; value: number }[] } | undefined,
  part: string,
): string {
  const setting = addOn?.settings.find(({ slug }) => part === `setting ${slug}`)
  return setting ? `${setting.least} to ${setting.most}; now ${setting.value}` : ''
}
