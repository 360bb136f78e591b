import { Link } from 'react-router'
import { useWeighIns } from '../api/weigh-ins.js'
import { useSite } from '../frame/site-context.js'
import { Failed, Loading, Notice } from '../parts/notice.js'
import { PlaceHead } from '../parts/place-head.js'
import { WeighInList } from './weigh-in-list.js'

const LINK =
  'inline-flex h-8 items-center rounded-xs border border-verdigris bg-verdigris px-3 font-medium whitespace-nowrap text-on-verdigris hover:opacity-90'

/** What was held against what, on the same pages. */
export function WeighInsPlace() {
  const site = useSite()
  const weighIns = useWeighIns(site.id)
  if (weighIns.isPending) return <Loading what="what was weighed" />
  if (weighIns.isError) return <Failed error={weighIns.error} retry={() => void weighIns.refetch()} />
  const begin = (
    <Link to={`/sites/${site.id}/weigh-ins/new`} className={LINK}>
      Weigh something …
    </Link>
  )
  if (weighIns.data.length === 0)
    return (
      <Notice title="Nothing has been weighed yet" action={begin}>
        A page as it is, without an add-on, with another in its place, or with another value of a setting: read in turn,
        and nothing changes for any visitor.
      </Notice>
    )
  return (
    <div className="h-full overflow-auto">
      <PlaceHead title="Weigh-ins" action={begin}>
        The same pages under variants, read in turn. No visitor gets any of it, and nothing is installed.
      </PlaceHead>
      <WeighInList siteId={site.id} list={weighIns.data} />
    </div>
  )
}
