import { classValidatorResolver } from '@hookform/resolvers/class-validator'
import { FormProvider, useForm } from 'react-hook-form'
import { SiteChange, type Site } from '@unvelt/contract'
import { ApiError } from '../api/client.js'
import { useChangeSite } from '../api/queries.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'
import { AccessFields } from './access-fields.js'

/** By what the site lets Unvelt in; it is tried at the site before it is kept. */
export function AccessForm({ site, onDone }: { site: Site; onDone: () => void }) {
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
