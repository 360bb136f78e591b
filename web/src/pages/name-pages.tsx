import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useForm } from 'react-hook-form'
import type { Page, Site } from '@unvelt/contract'
import { call } from '../api/client.js'
import { keys } from '../api/queries.js'
import { plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'
import { Window } from '../parts/window.js'

/** Pages that nothing leads to: an address a line. They are read by the next sweep. */
export function NamePages({ site, onClose }: { site: Site; onClose(): void }) {
  const client = useQueryClient()
  const form = useForm({ defaultValues: { text: '' } })
  const changed = () => client.invalidateQueries({ queryKey: keys.sites })
  const forget = async (pages: Page[]) => {
    await Promise.all(pages.map(({ id }) => call('DELETE', `/sites/${site.id}/pages/${id}`).catch(() => null)))
    await changed()
  }
  const name = useMutation({
    mutationFn: (text: string) =>
      call<Page[]>('POST', `/sites/${site.id}/pages`, {
        addresses: text.split('\n').filter((line) => line.trim() !== ''),
      }),
    onSuccess: async (pages) => {
      await changed()
      toast.success(`${plural(pages.length, 'page')} named; the next sweep reads them.`, {
        action: { label: 'Undo', onClick: () => void forget(pages) },
      })
      onClose()
    },
    onError: (error) => form.setError('text', { message: error.message }),
  })
  const { errors } = form.formState
  return (
    <Window
      title="Name pages"
      note={`One address a line, such as /spring/thanks. They must be at ${site.address}.`}
      width={560}
      onClose={onClose}
    >
      <form noValidate onSubmit={form.handleSubmit(({ text }) => name.mutate(text))} className="mt-3 grid gap-3">
        <textarea
          {...form.register('text', { required: 'Please enter at least one address.' })}
          aria-label="Addresses"
          aria-invalid={errors.text !== undefined}
          aria-describedby="addresses-note"
          rows={8}
          autoFocus
          spellCheck={false}
          className="w-full border border-line bg-paper px-2.5 py-2 font-mono text-[13px]"
        />
        {errors.text && (
          <p id="addresses-note" role="alert" className="text-plum">
            {errors.text.message}
          </p>
        )}
        <div className="flex gap-2">
          <Button type="submit" weight="main" disabled={name.isPending}>
            Name them
          </Button>
          <Button weight="quiet" onClick={onClose}>
            Back
          </Button>
        </div>
      </form>
    </Window>
  )
}
