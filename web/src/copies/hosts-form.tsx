import { useForm } from 'react-hook-form'
import type { Site } from '@unvelt/contract'
import { ApiError } from '../api/client.js'
import { useChangeSite } from '../api/queries.js'
import { Button } from '../parts/button.js'
import { Lines } from '../parts/lines.js'
import { toast } from '../parts/toast.js'
import { checkHostLines, hostsOfLines, linesOfHosts } from './host-lines.js'

/** Where names lead for a site, as lines of a hosts file. */
export function HostsForm({ site, onDone }: { site: Site; onDone(): void }) {
  const change = useChangeSite(site.id)
  const form = useForm({ defaultValues: { lines: linesOfHosts(site.hosts) } })
  const save = ({ lines }: { lines: string }) =>
    change.mutate(
      { hosts: hostsOfLines(lines) },
      {
        onSuccess: () => {
          toast.success('From now on the site is looked for there.')
          onDone()
        },
        onError: (error) => form.setError('lines', { message: told(error) }),
      },
    )
  return (
    <form
      noValidate
      aria-label="Where names lead"
      className="mt-2 grid max-w-3xl gap-3"
      onSubmit={(event) => void form.handleSubmit(save)(event)}
    >
      <Lines
        label="Names"
        hint="A line each, as in a hosts file: 192.0.2.7 copy.example.org. No line, and all lead where DNS says."
        rows={3}
        field={form.register('lines', { validate: checkHostLines })}
        error={form.formState.errors.lines}
      />
      <div className="flex gap-2">
        <Button type="submit" weight="main" disabled={change.isPending}>
          Keep it
        </Button>
        <Button weight="quiet" onClick={onDone}>
          Leave it as it was
        </Button>
      </div>
    </form>
  )
}

const told = (error: Error): string =>
  error instanceof ApiError && error.problem.errors?.[0] ? error.problem.errors[0].message : error.message
