import { Navigate } from 'react-router'
import { useSites } from '../api/queries.js'
import { Failed, Loading } from '../parts/notice.js'

const LAST_SITE = 'unvelt.last-site'
export const rememberSite = (id: number) => localStorage.setItem(LAST_SITE, String(id))

/** Opens the site that was looked at last, or the form for the first one. */
export function FirstSite() {
  const sites = useSites()
  if (sites.isPending) return <Loading what="the sites" />
  if (sites.isError) return <Failed error={sites.error} retry={() => void sites.refetch()} />
  const last = sites.data.find((site) => String(site.id) === localStorage.getItem(LAST_SITE)) ?? sites.data[0]
  return <Navigate to={last ? `/sites/${last.id}` : '/sites/new'} replace />
}
