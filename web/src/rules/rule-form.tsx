import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { useForm, useWatch } from 'react-hook-form'
import type { RuleInput, RuleView, Site } from '@unvelt/contract'
import { ApiError } from '../api/client.js'
import { usePageSets } from '../api/page-sets.js'
import { keys, useAddOnSheet, useAddOns, useDrafts, useLedger, usePages, usePrediction } from '../api/queries.js'
import { plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { Choice } from '../parts/choice.js'
import { Field } from '../parts/field.js'
import { useRemembered } from '../parts/remembered.js'
import { toast } from '../parts/toast.js'
import { Window } from '../parts/window.js'
import { holdCost, viewsOf } from './hold-costs.js'
import { canHaveExceptions, changedExceptions, exceptionLines, exceptionRules, exceptionsOf } from './exceptions.js'
import { linesIn } from './paths.js'
import { RuleParticulars } from './rule-particulars.js'
import { RulePlaceFields } from './rule-place-fields.js'
import { inputOf, subjectOf } from './rule-rows.js'
import { choicesFor, partsOf, ruleOf, setsToChoose, valuesOf, type About, type RuleValues } from './rule-values.js'
import { SavingLine } from './saving.js'
import { useDraft } from './use-draft.js'
import { choiceKey, effectWords } from './words.js'

interface RuleFormProps {
  site: Site
  /** Null for a new one. */
  rule: RuleView | null
  /** What a new one is about, where that is known. */
  about?: About
  /** All rules as they would be live, among which are its exceptions. */
  rules: readonly RuleView[]
  onClose(): void
}

/** A rule with all that it can say, drafted as it is written. */
export function RuleForm({ site, rule, about, rules, onClose }: RuleFormProps) {
  const { data: addOns = [] } = useAddOns(site.id)
  const { data: pages = [] } = usePages(site.id)
  const { data: ledger } = useLedger(site.id, null)
  const [author, setAuthor] = useRemembered('unvelt.author', '')
  const draft = useDraft(site.id)
  const { data: drafted } = useDrafts(site.id)
  const drafts = drafted?.rules ?? []
  const [atOpening] = useState(drafts)
  const { data: pageSets = [] } = usePageSets(site.id)
  const sets = setsToChoose(pageSets, rule)
  const before = rule ? exceptionsOf(inputOf(rule), rules) : []
  const form = useForm<RuleValues>({
    defaultValues: { ...valuesOf(rule, author, about), except: exceptionLines(before).join('\n') },
  })
  const values = useWatch({ control: form.control }) as RuleValues
  const addOn = addOns.find(({ slug }) => slug === values.addon)
  const { data: sheet } = useAddOnSheet(site.id, values.addon || undefined, ledger?.sweep?.id)
  const loaded = sheet?.addOn.slug === values.addon ? sheet.loaded : []
  // What code asks for as it runs has an address for each page.
  const seen = loaded.filter(({ type, url }) => type !== 'fetch' && /^https?:/.test(url)).map(({ name }) => name)
  // What is chosen stays a choice until the sheet has come.
  if (values.part.startsWith('file ')) seen.push(values.part.slice('file '.length))
  const ruled = addOns
    .filter(({ gone, source }) => !gone && (!site.hasConnector || source === 'connector'))
    .sort((a, b) => a.name.localeCompare(b.name))
  const choices = choicesFor(site.effects, addOn, values.part)
  const whole = ruleOf(values, sets)
  const excepted = whole && canHaveExceptions(whole) ? exceptionRules(whole, linesIn(values.except)) : []
  const prediction = usePrediction(site.id, whole ? [whole, ...excepted] : [], ledger?.sweep?.id)
  const touched = new Set(prediction.data?.perPage.map(({ path }) => path))
  const cost = whole && holdCost(whole.effect, addOn, viewsOf(pages, touched))
  const client = useQueryClient()
  const now = whole && drafts.find((other) => sameThing(inputOf(other), whole))
  const { errors } = form.formState
  /** What was chosen for one thing need not fit another, and a copy that was made is one of a single file. */
  const aboutAnother = () => {
    form.setValue('effect', '')
    form.setValue('content', '')
    form.setValue('from', '')
  }
  const [refused, setRefused] = useState<string | null>(null)
  /** @param anyway Whatever somebody else has drafted on the same meanwhile. */
  const save = async (written: RuleValues, anyway: boolean) => {
    const input = ruleOf(written, sets)
    if (!input) return
    setAuthor(written.author.trim())
    // What it was about before is no longer meant by it.
    const isSame = rule && sameThing(inputOf(rule), input)
    const isDraft = rule?.revision !== undefined
    const gone = rule && !isSame && !isDraft ? [{ ...inputOf(rule), removed: true }] : []
    const wanted = canHaveExceptions(input) ? exceptionRules(input, linesIn(written.except)) : []
    const exceptions = changedExceptions(before, wanted, new Set(drafts.map(({ id }) => id)))
    const basis = anyway
      ? {}
      : basisOf(
          rule,
          atOpening.some((other) => sameThing(inputOf(other), input)),
        )
    try {
      await draft.replace(
        [...gone, { ...input, ...basis }, ...exceptions.rules],
        [...(isDraft ? [rule.id] : []), ...exceptions.withdrawn],
        rule ? 'The changed rule is drafted' : 'The rule is drafted',
        true,
      )
      onClose()
    } catch (error) {
      if (!(error instanceof ApiError) || error.status !== 409) throw error
      setRefused(error.message)
      void client.invalidateQueries({ queryKey: keys.drafts(site.id) })
    }
  }
  const submit = (anyway: boolean) =>
    form
      .handleSubmit((written) => save(written, anyway))()
      .catch((error: Error) => toast.error(error.message))
  return (
    <Window title={rule ? 'Change a rule' : 'A new rule'} width={760} onClose={onClose}>
      <form
        noValidate
        aria-label="Rule"
        onSubmit={(event) => {
          event.preventDefault()
          void submit(false)
        }}
        className="-mx-1 mt-3 grid max-h-[72dvh] gap-4 overflow-auto px-1 pb-1"
      >
        <div className="grid grid-cols-2 gap-4">
          <Choice
            label="Add-on"
            field={form.register('addon', {
              required: true,
              onChange: () => {
                form.setValue('part', '')
                aboutAnother()
              },
            })}
            choices={[
              ['', 'choose one'],
              // What is chosen stays a choice until they have come.
              ...(values.addon !== '' && !ruled.some(({ slug }) => slug === values.addon)
                ? [[values.addon, values.addon] as [string, string]]
                : []),
              ...ruled.map(({ slug, name }): [string, string] => [slug, name]),
            ]}
          />
          <Choice
            label="Of it"
            field={form.register('part', { onChange: aboutAnother })}
            choices={partsOf(addOn, seen)}
          />
          <Choice
            label="Is"
            field={form.register('effect', { required: true })}
            choices={[
              ['', 'choose what becomes of it'],
              ...choices.map((choice): [string, string] => [
                choiceKey(choice),
                choice.effect === 'set'
                  ? 'set to a value'
                  : effectWords({
                      ...choice,
                      copy: { content: values.content || undefined },
                      file: values.part.startsWith('file ') ? values.part : undefined,
                    }),
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
        </div>
        <RuleParticulars site={site} form={form} values={values} />
        <RulePlaceFields
          site={site}
          form={form}
          values={values}
          sets={sets}
          takesExceptions={whole !== null && canHaveExceptions(whole)}
        />
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
        <div className="sticky bottom-0 flex flex-wrap gap-2 bg-sheet pt-2">
          {refused !== null && (
            <p role="alert" className="w-full border-l-2 border-plum pl-2">
              {refused} {now ? `It is ${effectWords(now)} there now. ` : ''}What you wrote is still here.
            </p>
          )}

          {refused === null ? (
            <Button weight="main" type="submit" disabled={!whole || draft.isPending}>
              Draft it
            </Button>
          ) : (
            <Button weight="main" disabled={!whole || draft.isPending} onClick={() => void submit(true)}>
              Draft this instead
            </Button>
          )}
          <Button weight="quiet" onClick={onClose}>
            Back
          </Button>
        </div>
      </form>
    </Window>
  )
}

/** The draft that is meant to give way to this one, as it was when the form was opened. */
function basisOf(rule: RuleView | null, replacesKnown: boolean): Pick<RuleInput, 'basedOn'> {
  if (rule?.revision !== undefined) return { basedOn: { id: rule.id, revision: rule.revision } }
  return replacesKnown ? {} : { basedOn: null }
}

const sameThing = (a: RuleInput, b: RuleInput) => subjectOf(a) === subjectOf(b)

function valueHint(
  addOn: { settings: { slug: string; least: number; most: number; value: number }[] } | undefined,
  part: string,
): string {
  const setting = addOn?.settings.find(({ slug }) => part === `setting ${slug}`)
  return setting ? `${setting.least} to ${setting.most}; now ${setting.value}` : ''
}
