import { useMutation } from '@tanstack/react-query'
import { useFieldArray, useWatch, type UseFormReturn } from 'react-hook-form'
import type { Site, SignInForm, SignInTrial } from '@unvelt/contract'
import { call } from '../api/client.js'
import { Button } from '../parts/button.js'
import { Field } from '../parts/field.js'
import { visitorOf, type LensValues } from './lens-values.js'

interface SignInPartProps {
  site: Site
  form: UseFormReturn<LensValues>
  /** The lens that has its sign-in already, if one is changed. */
  keptBy: number | undefined
}

/** How a visitor signs in by the site's form: where it stands, what is filled in, and whether that works. */
export function SignInPart({ site, form, keptBy }: SignInPartProps) {
  const { control, register, setValue, getValues, setError, clearErrors, formState } = form
  const { errors } = formState
  const answers = useFieldArray({ control, name: 'answers' })
  const byHand = useWatch({ control, name: 'byHand' })
  const look = useMutation({
    mutationFn: (page: string) => call<SignInForm>('POST', `/sites/${site.id}/lenses/sign-in-form`, { page }),
    onError: (error) => setError('page', { message: error.message }),
    onSuccess: (found) => {
      clearErrors('page')
      setValue('path', found.path)
      answers.replace(found.fields.map((field) => ({ ...field, value: '' })))
      trial.reset()
    },
  })
  const trial = useMutation({
    mutationFn: () =>
      call<SignInTrial>('POST', `/sites/${site.id}/lenses/sign-in-trial`, {
        visitor: visitorOf(getValues()),
        ...(keptBy !== undefined && { lensId: keptBy }),
      }),
  })
  const isKept = keptBy !== undefined && answers.fields.length === 0
  const canTry = byHand || isKept || answers.fields.length > 0
  const keeps = isKept ? 'leave it empty to keep what is there' : 'kept sealed and never shown again'
  return (
    <fieldset className="grid gap-3 border-l-2 border-line pl-4">
      <legend className="font-semibold text-soft">Signing in</legend>
      {byHand ? (
        <div className="grid grid-cols-2 gap-4">
          <Field
            label="The form is sent to"
            hint="For instance /sign-in"
            field={register('path', { required: 'Enter the path.' })}
            error={errors.path}
          />
          <Field
            label="Its fields"
            hint={`name=editor&word=…; ${keeps}`}
            type="password"
            field={register('fields', { required: !isKept && 'Enter the fields.' })}
            error={errors.fields}
          />
        </div>
      ) : (
        <>
          <div className="grid grid-cols-[1fr_auto] items-start gap-3">
            <Field
              label="The page with the sign-in form"
              hint="For instance /sign-in. The form is read there at each sign-in, with what the site fills in itself."
              field={register('page', {
                required: 'Enter the path of the page.',
                validate: () => isKept || answers.fields.length > 0 || 'Look for its form first.',
              })}
              error={errors.page}
            />
            <Button className="mt-[26px]" disabled={look.isPending} onClick={() => look.mutate(getValues('page'))}>
              {look.isPending ? 'Looking …' : 'Look for its form'}
            </Button>
          </div>
          {answers.fields.length > 0 && (
            <div className="grid grid-cols-2 gap-4">
              {answers.fields.map((answer, n) => (
                <Field
                  key={answer.id}
                  label={answer.label}
                  hint={answer.secret ? 'Kept sealed and never shown again' : `Sent as ${answer.name}`}
                  type={answer.secret ? 'password' : 'text'}
                  field={register(`answers.${n}.value`, { required: answer.secret && 'Enter it.' })}
                  error={errors.answers?.[n]?.value}
                />
              ))}
            </div>
          )}
          {isKept && <p className="text-soft">What is filled in is kept. Look for the form to fill it in anew.</p>}
        </>
      )}
      <div className="flex flex-wrap items-center gap-3">
        <Button disabled={!canTry || trial.isPending} onClick={() => trial.mutate()}>
          {trial.isPending ? 'Signing in …' : 'Try to sign in'}
        </Button>
        <Button weight="quiet" onClick={() => setValue('byHand', !byHand)}>
          {byHand ? 'Look for the form on a page' : 'Describe the form by hand'}
        </Button>
        {(trial.data ?? trial.error) && (
          <p role="status" className={trial.data?.signedIn ? '' : 'text-plum'}>
            {trial.data?.said ?? trial.error?.message}
          </p>
        )}
      </div>
    </fieldset>
  )
}
