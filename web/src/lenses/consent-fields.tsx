import { useWatch, type UseFormReturn } from 'react-hook-form'
import { Choice } from '../parts/choice.js'
import { Field } from '../parts/field.js'
import { Lines } from '../parts/lines.js'
import type { LensValues } from './lens-values.js'

/** What the visitor has answered where the site asks for consent, and how the answer is given. */
export function ConsentFields({ form }: { form: UseFormReturn<LensValues> }) {
  const { register, control, formState } = form
  const [answer, by] = useWatch({ control, name: ['consent', 'consentBy'] })
  const { errors } = formState
  return (
    <>
      <div className="grid grid-cols-2 gap-4">
        <Choice
          label="Consent"
          field={register('consent')}
          choices={[
            ['none', 'Has not answered'],
            ['agreed', 'Has agreed'],
            ['refused', 'Has refused'],
          ]}
        />
        {answer !== 'none' && (
          <Choice
            label="Answered by"
            field={register('consentBy')}
            choices={[
              ['press', 'A press on the site’s banner'],
              ['cookie', 'A cookie of the site'],
              ['storage', 'An entry in its storage'],
              ['session', 'An entry in its session storage'],
            ]}
          />
        )}
      </div>
      {answer !== 'none' && by === 'press' && (
        <Field
          label="What is pressed"
          hint="A CSS selector, in a frame iframe#ask -> #yes; Outside finds it by itself under Consent"
          field={register('consentSelector', { required: 'Say what is pressed.' })}
          error={errors.consentSelector}
        />
      )}
      {answer !== 'none' && by === 'press' && (
        <Field
          label="What is pressed before it"
          hint="Only where it is not there at once, as behind “Settings”"
          field={register('consentFirst')}
          error={errors.consentFirst}
        />
      )}
      {answer === 'refused' && by === 'press' && (
        <Lines
          label="What is switched off before it"
          hint="CSS selectors, one a line; only where switches are on by themselves"
          rows={2}
          field={register('consentOff')}
          error={errors.consentOff}
        />
      )}
      {answer !== 'none' && by === 'cookie' && (
        <Field
          label="Cookie of the answer"
          hint="name=value"
          field={register('consentCookie', {
            required: 'Enter the cookie.',
            pattern: { value: /=/, message: 'Expected name=value.' },
          })}
          error={errors.consentCookie}
        />
      )}
      {answer !== 'none' && (by === 'storage' || by === 'session') && (
        <div className="grid grid-cols-2 gap-4">
          <Field
            label="Entry"
            field={register('consentKey', { required: 'Enter the name of the entry.' })}
            error={errors.consentKey}
          />
          <Field label="Its value" field={register('consentValue')} error={errors.consentValue} />
        </div>
      )}
    </>
  )
}
