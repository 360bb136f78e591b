import { classValidatorResolver } from '@hookform/resolvers/class-validator'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { FormProvider, useForm, useWatch, type UseFormReturn } from 'react-hook-form'
import { useNavigate } from 'react-router'
import { SiteRegistration, type AccessWish, type Site } from '@unvelt/contract'
import { ApiError, call } from '../api/client.js'
import { keys, useSites } from '../api/queries.js'
import { CertificateFacts } from '../copies/certificate-facts.js'
import { checkHostLines, hostsOfLines } from '../copies/host-lines.js'
import { useShownCertificate } from '../copies/use-certificate.js'
import { Button } from '../parts/button.js'
import { Field } from '../parts/field.js'
import { Tick } from '../parts/tick.js'
import { AccessFields } from '../settings/access-fields.js'

/** Registers a site by its address. What is wrong is said at the field it is about; nothing is stored until all is right. */
export function RegisterSite() {
  const navigate = useNavigate()
  const client = useQueryClient()
  const { data: sites = [] } = useSites()
  const form = useForm<SiteRegistration>({
    resolver: classValidatorResolver(SiteRegistration),
    defaultValues: { address: '', connectorKey: '', local: false, withoutConnector: false },
    // What is not shown is not sent.
    shouldUnregister: true,
  })
  const [isClosed, setClosed] = useState(false)
  const [isElsewhere, setElsewhere] = useState(false)
  const [lines, setLines] = useState('')
  const linesFault = isElsewhere ? checkHostLines(lines) : true
  const shown = useShownCertificate()
  const { errors } = form.formState
  const withoutConnector = useWatch({ control: form.control, name: 'withoutConnector' })
  const register = useMutation({
    mutationFn: (values: SiteRegistration) =>
      call<Site>('POST', '/sites', { ...values, ...(isElsewhere && { hosts: hostsOfLines(lines) }) }),
    onSuccess: async (site) => {
      await client.invalidateQueries({ queryKey: keys.sites })
      void navigate(`/sites/${site.id}/ledger`)
    },
    onError: (error, { address, local }) => {
      if (error instanceof ApiError && error.about('certificate')) {
        // Which one it is can be looked at, and taken.
        shown.mutate(
          { address, local: local ?? false, ...(isElsewhere && { hosts: hostsOfLines(lines) }) },
          { onError: ({ message }) => form.setError('root', { message }) },
        )
        return
      }
      if (error instanceof ApiError && error.problem.errors?.some(({ field }) => field.startsWith('hosts')))
        return form.setError('root', { message: error.problem.errors[0]!.message })
      if (error instanceof ApiError && error.about('access')) {
        setClosed(true)
        return form.setError('root', { message: error.about('access')! })
      }
      const fields = ['address', 'connectorKey', 'local'] as const
      const found = fields.filter((field) => error instanceof ApiError && error.about(field))
      for (const field of found) form.setError(field, { message: (error as ApiError).about(field)! })
      if (found.length === 0) form.setError('root', { message: error.message })
      else form.setFocus(found[0]!)
    },
  })
  return (
    <main className="mx-auto grid min-h-dvh max-w-4xl content-center gap-x-16 gap-y-8 px-8 py-12 md:grid-cols-[1fr_1.1fr]">
      <div>
        <p className="font-serif text-2xl font-semibold">Unvelt</p>
        <h1 className="mt-8 text-[28px]">Which site do you look after?</h1>
        <p className="mt-3 text-soft">
          Unvelt asks the site’s connector what is installed, then loads its pages in a browser and weighs every add-on
          on each of them. Without a connector it looks from outside, as a visitor does. No page and no setting of the
          site is changed by that.
        </p>
      </div>
      <form
        noValidate
        onSubmit={form.handleSubmit((values) => {
          shown.reset()
          if (linesFault === true) register.mutate(values)
        })}
        className="grid content-start gap-5 md:mt-16"
      >
        <Field
          label="Address"
          hint="For instance https://www.example.org"
          field={form.register('address')}
          error={errors.address}
          autoFocus
        />
        {!withoutConnector && (
          <Field
            label="Connector key"
            hint="Stands in the connector’s settings at the site"
            field={form.register('connectorKey')}
            error={errors.connectorKey}
            type="password"
          />
        )}
        <Tick
          label="The site has no connector"
          hint="Its pages are found by its sitemap or its links, its code is told apart by folder. Server time and rules stay out of reach."
          field={form.register('withoutConnector')}
          error={errors.withoutConnector}
        />
        <Tick
          label="The site is local"
          hint="Opens addresses of this machine and of private networks to it and to its pages"
          field={form.register('local')}
          error={errors.local}
        />
        <div className="grid gap-3">
          <label className="grid grid-cols-[auto_1fr] items-start gap-x-2.5">
            <input
              type="checkbox"
              checked={isClosed}
              aria-describedby="closed-note"
              className="mt-1"
              onChange={({ target }) => setClosed(target.checked)}
            />
            <span className="font-semibold">The site is closed to the public</span>
            <span id="closed-note" className="col-start-2 text-[13px] text-soft">
              As a copy behind a password is
            </span>
          </label>
          {isClosed && (
            <FormProvider {...(form as unknown as UseFormReturn<{ access: AccessWish }>)}>
              <AccessFields kept={null} />
            </FormProvider>
          )}
        </div>
        <div className="grid gap-3">
          <label className="grid grid-cols-[auto_1fr] items-start gap-x-2.5">
            <input
              type="checkbox"
              checked={isElsewhere}
              aria-describedby="elsewhere-note"
              className="mt-1"
              onChange={({ target }) => setElsewhere(target.checked)}
            />
            <span className="font-semibold">Its name leads elsewhere than DNS says</span>
            <span id="elsewhere-note" className="col-start-2 text-[13px] text-soft">
              As that of a copy does which no DNS knows of
            </span>
          </label>
          {isElsewhere && (
            <label className="grid gap-1">
              <span id="lines-name" className="font-semibold">
                Names
              </span>
              <textarea
                rows={2}
                spellCheck={false}
                value={lines}
                aria-invalid={linesFault !== true}
                aria-labelledby="lines-name"
                aria-describedby="lines-note"
                className="w-full border border-line bg-sheet px-2.5 py-1.5 text-[15px]"
                onChange={({ target }) => setLines(target.value)}
              />
              <span id="lines-note" className={linesFault === true ? 'text-[13px] text-soft' : 'text-[13px] text-plum'}>
                {linesFault === true ? 'A line each, as in a hosts file: 192.0.2.7 copy.example.org' : linesFault}
              </span>
            </label>
          )}
        </div>
        {shown.data && (
          <section aria-label="Its certificate" className="border-l-2 border-plum pl-3" role="alert">
            <h2 className="text-[17px]">No browser would take its certificate</h2>
            <CertificateFacts certificate={shown.data} />
            <p className="mt-2 text-soft">
              Take it where you know the fingerprint to be that of your copy. It is taken for this site alone, and only
              as long as it stays the same.
            </p>
            <Button
              weight="main"
              className="mt-2"
              disabled={register.isPending}
              onClick={() =>
                void form.handleSubmit((values) => {
                  const { fingerprint } = shown.data
                  register.mutate({ ...values, certificate: fingerprint })
                })()
              }
            >
              Take it and register the site
            </Button>
          </section>
        )}
        {errors.root && (
          <p role="alert" className="text-plum">
            {errors.root.message}
          </p>
        )}
        <div className="flex gap-2">
          <Button type="submit" weight="main" disabled={register.isPending}>
            {register.isPending
              ? withoutConnector
                ? 'Looking for pages …'
                : 'Asking the site …'
              : 'Register the site'}
          </Button>
          {sites.length > 0 && (
            <Button weight="quiet" onClick={() => void navigate(-1)}>
              Back
            </Button>
          )}
        </div>
      </form>
    </main>
  )
}
