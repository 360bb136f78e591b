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
        <Field label="Width, px" type="number" field={register('width', between(240, 4_000))} error={errors.width} />
        <Field label="Height, px" type="number" field={register('height', between(240, 4_000))} error={errors.height} />
        <Field
          label="Processor slowed"
          hint="times; 1 is not at all"
          type="number"
          field={register('cpu', between(1, 20))}
          error={errors.cpu}
        />
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
          <Field
            label="Latency"
            hint="ms, there and back"
            type="number"
            field={register('latency', between(0, 5_000))}
            error={errors.latency}
          />
          <Field
            label="Down"
            hint="kbit/s"
            type="number"
            field={register('down', between(50, 10_000_000))}
            error={errors.down}
          />
          <Field
            label="Up"
            hint="kbit/s"
            type="number"
            field={register('up', between(50, 10_000_000))}
            error={errors.up}
          />
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
