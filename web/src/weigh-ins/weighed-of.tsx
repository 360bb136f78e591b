import { Link } from 'react-router'
import { useWeighedOf } from '../api/weigh-ins.js'
import { WeighInList } from './weigh-in-list.js'

/** On an add-on's sheet: what was weighed of it, on any site, and the way to weigh it. */
export function WeighedOf({ siteId, slug }: { siteId: number; slug: string }) {
  const { data = [] } = useWeighedOf(siteId, slug)
  if (data.length === 0) return null
  return (
    <section aria-label="Weighed" className="mt-5">
      <h2 className="text-[17px]">Weighed</h2>
      <div className="-mx-4 mt-1.5 border-t border-line/60">
        <WeighInList siteId={siteId} list={data} />
      </div>
    </section>
  )
}

export function WeighThis({ siteId, slug }: { siteId: number; slug: string }) {
  return (
    <p className="mt-3">
      <Link
        to={`/sites/${siteId}/weigh-ins/new?addon=${encodeURIComponent(slug)}`}
        className="inline-flex h-8 items-center rounded-xs border border-verdigris/60 px-3 font-medium whitespace-nowrap text-verdigris hover:bg-wash"
      >
        Weigh it …
      </Link>
    </p>
  )
}
