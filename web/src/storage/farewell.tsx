import { useForm } from 'react-hook-form'
import { useNavigate } from 'react-router'
import type { Site } from '@unvelt/contract'
import { useLiveRules } from '../api/queries.js'
import { useDeleteSite } from '../api/storage.js'
import { plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { Field } from '../parts/field.js'
import { toast } from '../parts/toast.js'
import { Window } from '../parts/window.js'

/** What goes with a site, and the name to be typed before it does. */
export function Farewell({ site, onClose }: { site: Site; onClose(): void }) {
  const remove = useDeleteSite(site.id)
  const { data: rules } = useLiveRules(site.id)
  const navigate = useNavigate()
  const form = useForm({ defaultValues: { name: '' } })
  const live = rules?.versions[0]?.rules.length ?? 0
  return (
    <Window
      title={`Delete ${site.name}?`}
      note="Its sweeps, rules and their versions, verdicts, questions, proofs, rehearsals, weigh-ins and what was retired go for good. Nothing changes at the site itself."
      width={560}
      onClose={onClose}
    >
      {live > 0 && (
        <p className="mt-2 border-l-2 border-plum pl-2">
          {plural(live, 'rule')} {live === 1 ? 'is' : 'are'} live at the site and will go on holding there. Take{' '}
          {live === 1 ? 'it' : 'them'} back first if {live === 1 ? 'it is' : 'they are'} to end.
        </p>
      )}
      <form
        noValidate
        aria-label="Delete the site"
        className="mt-3 grid gap-3"
        onSubmit={(event) =>
          void form.handleSubmit(({ name }) =>
            remove.mutate(name, {
              onSuccess: () => {
                toast(`${site.name} is deleted.`)
                void navigate('/')
              },
              onError: (error) => form.setError('name', { message: error.message }),
            }),
          )(event)
        }
      >
        <Field
          autoFocus
          label="The site’s name"
          hint={`Type ${site.name} to say that this one is meant`}
          error={form.formState.errors.name}
          field={form.register('name', {
            validate: (name) => name.trim() === site.name || `Expected ${site.name}.`,
          })}
        />
        <div className="flex gap-2">
          <Button weight="danger" type="submit" disabled={remove.isPending}>
            Delete everything of it
          </Button>
          <Button weight="quiet" onClick={onClose}>
            Keep it
          </Button>
        </div>
      </form>
    </Window>
  )
}
