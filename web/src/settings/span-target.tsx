import { useQuery } from '@tanstack/react-query'
import type { Site, SpanTarget as Target } from '@unvelt/contract'
import { call } from '../api/client.js'
import { keys } from '../api/queries.js'
import { dateTime } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'

/** Where the site sends what it did for a measured request, step by step. */
export function SpanTarget({ site }: { site: Site }) {
  const { data } = useQuery({
    queryKey: [...keys.site(site.id), 'span-target'],
    queryFn: () => call<Target>('GET', `/sites/${site.id}/traces/target`),
  })
  if (!data) return null
  const address = location.origin + data.path
  const header = `Authorization: Bearer ${data.token}`
  const copy = (text: string, what: string) =>
    navigator.clipboard.writeText(text).then(
      () => toast(`${what} is in the clipboard.`),
      () => toast.error('The browser does not let anything into the clipboard here.'),
    )
  return (
    <section className="px-4 pt-6" aria-label="Spans of the site">
      <h2 className="text-[17px]">Spans of the site</h2>
      <p className="max-w-[76ch] text-soft">
        A site with OpenTelemetry can tell what its server did for each measured request: it sends its spans here over
        OTLP/HTTP.{' '}
        {data.newestAt ? `What came last began on ${dateTime(data.newestAt)}.` : 'Nothing has come from it so far.'}
      </p>
      <dl className="mt-2 grid grid-cols-[auto_minmax(0,1fr)_auto] items-center gap-x-4 gap-y-1 max-md:grid-cols-[minmax(0,1fr)_auto]">
        <dt className="text-soft max-md:col-span-2">Address</dt>
        <dd className="truncate font-mono text-[13px]">{address}</dd>
        <dd>
          <Button weight="quiet" onClick={() => void copy(address, 'The address')}>
            Copy<span className="sr-only"> the address</span>
          </Button>
        </dd>
        <dt className="text-soft max-md:col-span-2">Header, good for this site alone</dt>
        <dd className="truncate font-mono text-[13px]">{header.slice(0, header.indexOf('.') + 5)} …</dd>
        <dd>
          <Button weight="quiet" onClick={() => void copy(header, 'The header')}>
            Copy<span className="sr-only"> the header</span>
          </Button>
        </dd>
      </dl>
    </section>
  )
}
