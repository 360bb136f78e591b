import { useWatch, type UseFormReturn } from 'react-hook-form'
import { Choice } from '../parts/choice.js'
import { Field } from '../parts/field.js'
import { NETWORK_CHOICES, OWN_NETWORK, type LensValues } from './lens-values.js'

const WHOLE = { valueAsNumber: true, required: 'Enter a number.' } as const
const between = (least: number, most: number) => ({
  ...WHOLE,
  min: { value: least, message: `At least ${least.toLocaleString('en')}.` },
  max: { value: most, message: `At most ${most.toLocaleString('en')}.` },
})

const RATES: [number, number] = [50, 10_000_000]

type FigureName = 'width' | 'height' | 'cpu' | 'latency' | 'down' | 'up'

interface FigureProps {
  form: UseFormReturn<LensValues>
  name: FigureName
  label: string
  hint?: string
  within: [least: number, most: number]
}

/** One figure of a lens, within its bounds. */
const Figure = ({ form, name, label, hint, within: [least, most] }: FigureProps) => (
  <Field
    label={label}
    type="number"
    field={form.register(name, between(least, most))}
    error={form.formState.errors[name]}
    {...(hint !== undefined && { hint })}
  />
)

/** What a lens looks through: device, network, cache and who looks. */
export function LensLookPart({ form }: { form: UseFormReturn<LensValues> }) {
  const { register, control, formState } = form
  const { errors } = formState
  const [visitor, network] = useWatch({ control, name: ['visitor', 'network'] })
  return (
    <>
      <Field
        label="Name"
        field={register('name', { required: 'Give the lens a name.' })}
        error={errors.name}
        autoFocus
      />
      <div className="grid grid-cols-4 gap-4">
        <Choice
          label="Device"
          field={register('phone')}
          choices={[
            ['desk', 'Desk'],
            ['phone', 'Phone'],
          ]}
        />
        <Figure form={form} name="width" label="Width, px" within={[240, 4_000]} />
        <Figure form={form} name="height" label="Height, px" within={[240, 4_000]} />
        <Figure form={form} name="cpu" label="Processor slowed" hint="times; 1 is not at all" within={[1, 20]} />
      </div>
      <div className="grid grid-cols-2 gap-4">
        <Choice
          label="Network"
          field={register('network')}
          choices={[
            ...NETWORK_CHOICES.map(({ key, name }): [string, string] => [key, name]),
            [OWN_NETWORK, 'Figures of your own'],
          ]}
        />
        <Choice
          label="Cache"
          field={register('cache')}
          choices={[
            ['cold', 'Cold: never been here'],
            ['warm', 'Warm: a second view'],
          ]}
        />
      </div>
      {network === OWN_NETWORK && (
        <div className="grid grid-cols-3 gap-4">
          <Figure form={form} name="latency" label="Latency" hint="ms, there and back" within={[0, 5_000]} />
          <Figure form={form} name="down" label="Down" hint="kbit/s" within={RATES} />
          <Figure form={form} name="up" label="Up" hint="kbit/s" within={RATES} />
        </div>
      )}
      <div className="grid grid-cols-2 gap-4">
        <Choice
          label="Visitor"
          field={register('visitor')}
          choices={[
            ['signed-out', 'Signed out'],
            ['cookie', 'Signed in by a cookie'],
            ['form', 'Signed in by the site’s form'],
          ]}
        />
        {visitor !== 'signed-out' && (
          <Field label="As" hint="For instance member or editor" field={register('role')} error={errors.role} />
        )}
      </div>
    </>
  )
}
