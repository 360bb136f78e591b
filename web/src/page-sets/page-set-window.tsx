import { useForm } from 'react-hook-form'
import type { PageSet } from '@unvelt/contract'
import { useAddPageSet, useChangePageSet } from '../api/page-sets.js'
import { usePages } from '../api/queries.js'
import { plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { Field } from '../parts/field.js'
import { Lines } from '../parts/lines.js'
import { toast } from '../parts/toast.js'
import { Window } from '../parts/window.js'
import { linesIn, pathProblem } from '../rules/paths.js'

interface PageSetWindowProps {
  siteId: number
  /** Null for a new one. */
  set: PageSet | null
  /** Of a new one: the pages that it begins with. */
  paths?: readonly string[]
  onClose(): void
  onSaved?(name: string): void
}

/** Pages get a name together, or other pages do. */
export function PageSetWindow({ siteId, set, paths = [], onClose, onSaved }: PageSetWindowProps) {
  const { data: pages = [] } = usePages(siteId)
  const add = useAddPageSet(siteId)
  const change = useChangePageSet(siteId)
  const form = useForm({
    defaultValues: { name: set?.name ?? '', note: set?.note ?? '', paths: (set?.paths ?? paths).join('\n') },
  })
  const { errors } = form.formState
  // What it had already may stay in it, though the site has it no more.
  const known = new Set([...pages.map(({ path }) => path), ...(set?.paths ?? [])])
  const save = form.handleSubmit(async ({ name, note, paths: text }) => {
    const input = { name: name.trim(), note: note.trim(), paths: linesIn(text) }
    try {
      if (set) {
        const { drafted } = await change.mutateAsync({ id: set.id, ...input })
        if (drafted > 0)
          toast.success(`${plural(drafted, 'draft')} written`, {
            description: `Live rules on ${input.name} follow once these are put live.`,
          })
      } else await add.mutateAsync(input)
      onSaved?.(input.name)
      onClose()
    } catch (error) {
      form.setError('name', { message: (error as Error).message })
    }
  })
  return (
    <Window
      title={set ? `Change ${set.name}` : 'A name for these pages'}
      note="Rules that say the name hold on its pages; when other pages are in it, the rules follow as drafts."
      width={560}
      onClose={onClose}
    >
      <form
        aria-label="Set of pages"
        noValidate
        onSubmit={(event) => {
          // It may stand within another form.
          event.stopPropagation()
          void save(event)
        }}
        className="mt-3 grid gap-3"
      >
        <Field
          autoFocus
          label="Name"
          hint="For instance: pages with a map"
          error={errors.name}
          field={form.register('name', {
            validate: (name) =>
              (name.trim() !== '' && name.trim().length <= 60) || 'Expected a name of at most 60 characters.',
          })}
        />
        <Lines
          label="Pages, a path on each line"
          rows={8}
          error={errors.paths}
          field={form.register('paths', { validate: (text) => pathProblem(text, known) })}
        />
        <Field label="Note" hint="What they have in common" error={errors.note} field={form.register('note')} />
        <div className="flex gap-2">
          <Button weight="main" type="submit" disabled={add.isPending || change.isPending}>
            {set ? 'Change it' : 'Name them'}
          </Button>
          <Button weight="quiet" onClick={onClose}>
            Back
          </Button>
        </div>
      </form>
    </Window>
  )
}
