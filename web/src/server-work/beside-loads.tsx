import type { Site } from '@unvelt/contract'
import { Failed, Loading } from '../parts/notice.js'
import { ActionsPart } from './actions-part.js'
import { useActions, useTraces } from './queries.js'
import { SlowestPart } from './slowest-part.js'
import { TasksPart } from './tasks-part.js'

/** What the server does beside making pages, and what took it longest of all. */
export function BesideLoads({ site, names }: { site: Site; names: ReadonlyMap<string, string> }) {
  const actions = useActions(site.id)
  const traces = useTraces(site.id, (actions.data?.underWay ?? 0) > 0)
  const error = actions.error ?? traces.error
  if (error) return <Failed error={error} retry={() => void Promise.all([actions.refetch(), traces.refetch()])} />
  if (!actions.data || !traces.data) return <Loading what="what the server does" />
  return (
    <div className="pb-10">
      <ActionsPart site={site} view={actions.data} names={names} />
      <TasksPart site={site} tasks={traces.data.tasks} names={names} />
      <SlowestPart site={site} slowest={traces.data.slowest} names={names} />
    </div>
  )
}
