import { Link, useSearchParams } from 'react-router'

/** Leads to a trace, and nowhere where none has come. */
export function TraceLink({ site, trace, children }: { site: number; trace: string | null; children: string }) {
  const [search] = useSearchParams()
  if (trace === null) return <span className="text-soft">none has come</span>
  return (
    <Link
      to={{
        pathname: `/sites/${site}/pages/traces/${trace}`,
        search: search.has('sweep') ? `?sweep=${search.get('sweep')}` : '',
      }}
      className="text-verdigris hover:underline"
    >
      {children}
    </Link>
  )
}
