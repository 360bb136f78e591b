import { useEffect } from 'react'
import { useParams, useSearchParams } from 'react-router'
import { useOpenPreview } from '../api/previews.js'
import { lookNow } from '../frame/look.js'
import { Failed, Loading } from '../parts/notice.js'

/** Opens a preview and goes to it: it has a host name of its own. */
export function OpenPreview() {
  const site = Number(useParams().site)
  const [search] = useSearchParams()
  const { data: preview, error, refetch } = useOpenPreview(site)
  const path = search.get('path')
  useEffect(() => {
    if (!preview) return
    const to = new URL(`/sites/${site}/preview`, preview.window)
    if (path !== null) to.searchParams.set('path', path)
    to.searchParams.set('key', preview.windowKey ?? '')
    to.searchParams.set('look', lookNow())
    location.replace(to)
  }, [preview, site, path])
  if (error) return <Failed error={error} retry={() => void refetch()} />
  return <Loading what="the preview" />
}
