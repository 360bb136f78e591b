import { classValidatorResolver } from '@hookform/resolvers/class-validator'
import { useState } from 'react'
import { FormProvider, useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { SiteChange, type AccessView, type Site } from '@unvelt/contract'
import { ApiError } from '../api/client.js'
import { useChangeSite } from '../api/queries.js'
import { Button } from '../parts/button.js'
import { AccessFields } from './access-fields.js'

/** By what the site lets Unvelt in where it is closed to the public, as copies are. */
export function SiteAccess({ site }: { site: Site }) {
  const [isOpen, setOpen] = useState(false)
  const change = useChangeSite(site.id)
  const openToAll = () =>
    change.mutate(
      { access: null },
      { onSuccess: () => toast.success('Asked as any visitor asks.'), onError: (error) => toast.error(error.message) },
    )
  return (
    <section className="px-4 pt-6" aria-label="Closed to the public">
      <h2 className="text-[17px]">Closed to the public</h2>
      <div className="flex items-end justify-between gap-6 max-md:flex-wrap">
        <p className="text-soft">{accessWords(site.access)}</p>
        {!isOpen && (
          <div className="flex shrink-0 gap-2">
            {site.access && (
              <Button weight="quiet" disabled={change.isPending} onClick={openToAll}>
                Do without
              </Button>
            )}
            <Button onClick={() => setOpen(true)}>{site.access ? 'Change …' : 'Enter a name and password …'}</Button>
          </div>
        )}
      </div>
      {isOpen && <AccessForm site={site} onDone={() => setOpen(false)} />}
    </section>
  )
}

function AccessForm({ site, onDone }: { site: Site; onDone: () => void }) {
  const change = useChangeSite(site.id)
  const form = useForm<SiteChange>({
    resolver: classValidatorResolver(SiteChange),
    defaultValues: {
      access: { user: site.access?.user ?? '', headers: (site.access?.headers ?? []).map((name) => ({ name })) },
    },
  })
  const save = ({ access }: SiteChange) =>
    change.mutate(
      { access: access ?? null },
      {
        onSuccess: () => {
          toast.success('The site lets Unvelt in.')
          onDone()
        },
        onError: (error) => form.setError('root', { message: told(error) }),
      },
    )
  return (
    <FormProvider {...form}>
      <form noValidate onSubmit={form.handleSubmit(save)} className="mt-3 grid max-w-3xl gap-3">
        <AccessFields kept={site.access} />
        {form.formState.errors.root && (
          <p role="alert" className="text-plum">
            {form.formState.errors.root.message}
          </p>
        )}
        <div className="flex gap-2">
          <Button type="submit" weight="main" disabled={change.isPending}>
            {change.isPending ? 'Trying it at the site …' : 'Try and keep it'}
          </Button>
          <Button weight="quiet" onClick={onDone}>
            Leave it as it was
          </Button>
        </div>
      </form>
    </FormProvider>
  )
}

const told = (error: Error): string =>
  error instanceof ApiError && error.problem.errors?.[0] ? error.problem.errors[0].message : error.message

function accessWords(access: AccessView | null): string {
  if (!access)
    return 'The site is asked as any visitor asks. A copy behind a password needs a name, or a header of its own.'
  const { user, headers } = access
  const by = [
    user && `as ${user}`,
    headers.length > 0 && `with the ${headers.length === 1 ? 'header' : 'headers'} ${headers.join(', ')}`,
  ]
  return `Unvelt goes in ${by.filter(Boolean).join(' and ')}. The site’s own hosts get that, and nobody else.`
}
