import { useForm } from 'react-hook-form'
import { KINDS, type Site } from '@unvelt/contract'
import { Button } from '../parts/button.js'
import { Choice } from '../parts/choice.js'
import { Field } from '../parts/field.js'
import { Window } from '../parts/window.js'
import { useChangeAddOn } from './change-add-on.js'

interface Entry {
  name: string
  kind: string
  purpose: string
}
const slugOf = (name: string) =>
  name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '')
    .slice(0, 100)

/** For what no connector tells and no reading finds: a script that only editors load, a service that is paid for. */
export function AddByHand({ site, onClose }: { site: Site; onClose(): void }) {
  const change = useChangeAddOn(site.id)
  const { register, handleSubmit, formState } = useForm<Entry>({
    defaultValues: { name: '', kind: 'snippet', purpose: '' },
  })
  const add = handleSubmit(({ name, kind, purpose }) =>
    change.add(
      { slug: slugOf(name), name: name.trim(), kind, ...(purpose.trim() && { purpose: purpose.trim() }) },
      (well) => well && onClose(),
    ),
  )
  return (
    <Window
      title="An entry by hand"
      note="For what the site does not tell of. Files are charged to it on a page’s sheet."
      width={460}
      onClose={onClose}
    >
      <form className="mt-4 grid gap-3" onSubmit={(event) => void add(event)}>
        <Field
          label="Name"
          autoFocus
          field={register('name', {
            validate: (name) => slugOf(name) !== '' || 'A name with at least one letter or digit.',
          })}
          error={formState.errors.name}
        />
        <Choice label="Kind" field={register('kind')} choices={KINDS.map((kind) => [kind, kind])} />
        <Field label="What it is for" field={register('purpose')} error={formState.errors.purpose} />
        <div className="mt-1 flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button weight="main" type="submit" disabled={change.isPending}>
            Add
          </Button>
        </div>
      </form>
    </Window>
  )
}
