import { useMutation, useQueryClient } from '@tanstack/react-query'
import { ChevronDown } from 'lucide-react'
import { DropdownMenu } from 'radix-ui'
import { useState } from 'react'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { KINDS, type InventoryTaken, type Site } from '@unvelt/contract'
import { send } from '../api/client.js'
import { keys } from '../api/queries.js'
import { plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { chooseFile } from '../parts/choose-file.js'
import { Choice } from '../parts/choice.js'
import { Field } from '../parts/field.js'
import { Window } from '../parts/window.js'
import { useChangeAddOn } from './change-add-on.js'

const ITEM = 'block cursor-pointer px-3 py-1.5 outline-none data-highlighted:bg-wash'

/** Lists in and out, and entries by hand. */
export function InventoryMenu({ site }: { site: Site }) {
  const client = useQueryClient()
  const [adding, setAdding] = useState(false)
  const take = useMutation({
    mutationFn: ({ file, path }: { file: File; path: string }) =>
      send<InventoryTaken>('POST', `/sites/${site.id}/${path}`, file, 'application/octet-stream'),
    onSuccess: ({ added, known }) => {
      toast.success(`Taken in: ${plural(added, 'new entry', 'new entries')}, ${known} known already`)
      return client.invalidateQueries({ queryKey: keys.site(site.id) })
    },
    onError: (error) => toast.error(error.message, { duration: 12_000 }),
  })
  return (
    <div className="flex gap-2">
      <Button onClick={() => setAdding(true)}>Add by hand …</Button>
      <DropdownMenu.Root>
        <DropdownMenu.Trigger className="flex h-8 items-center gap-1 rounded-xs border border-verdigris/60 px-3 font-medium text-verdigris hover:bg-wash">
          Lists <ChevronDown size={14} aria-hidden />
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content align="end" sideOffset={4} className="z-20 border border-line bg-sheet py-1">
            <DropdownMenu.Item asChild>
              <a className={ITEM} href={`/api/sites/${site.id}/inventory.csv`} download>
                Save as a table (CSV)
              </a>
            </DropdownMenu.Item>
            <DropdownMenu.Item asChild>
              <a className={ITEM} href={`/api/sites/${site.id}/inventory.cdx.json`} download>
                Save as CycloneDX
              </a>
            </DropdownMenu.Item>
            <DropdownMenu.Separator className="my-1 border-t border-line" />
            <DropdownMenu.Item
              className={ITEM}
              onSelect={() => chooseFile('.csv,.json', (file) => take.mutate({ file, path: 'inventory' }))}
            >
              Take a list in (CSV or CycloneDX) …
            </DropdownMenu.Item>
            <DropdownMenu.Item
              className={ITEM}
              onSelect={() => chooseFile('.csv', (file) => take.mutate({ file, path: 'touches' }))}
            >
              Take in how often visitors touch what (CSV) …
            </DropdownMenu.Item>
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      {adding && <AddDialog site={site} onClose={() => setAdding(false)} />}
    </div>
  )
}

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
function AddDialog({ site, onClose }: { site: Site; onClose(): void }) {
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
