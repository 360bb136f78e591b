import { useQuery } from '@tanstack/react-query'
import { useEffect } from 'react'
import type { Site, SitemapPages } from '@unvelt/contract'
import { call } from '../api/client.js'
import { keys } from '../api/queries.js'
import { plural } from '../figures/format.js'
import { Button } from '../parts/button.js'

interface PagesOfSitemapProps {
  site: Site
  /** The same function from one drawing to the next. */
  onChange(ids: number[]): void
}

/** The pages that the site's sitemap lists now, and what it lists besides. */
export function PagesOfSitemap({ site, onChange }: PagesOfSitemapProps) {
  const sitemap = useQuery({
    queryKey: [...keys.site(site.id), 'sitemap'],
    queryFn: () => call<SitemapPages>('GET', `/sites/${site.id}/sitemap`),
    retry: false,
    staleTime: 60_000,
  })
  const { data } = sitemap
  useEffect(() => {
    if (data) onChange(data.pageIds)
  }, [data, onChange])
  if (sitemap.isError)
    return (
      <p role="alert" className="mt-2 text-plum">
        {sitemap.error.message}{' '}
        <Button weight="quiet" onClick={() => void sitemap.refetch()}>
          Ask again
        </Button>
      </p>
    )
  if (!data) return <p className="mt-2 text-soft">Asking the site for its sitemap …</p>
  return (
    <p className="mt-2">
      The sitemap lists {plural(data.listed, 'address', 'addresses')};{' '}
      {data.pageIds.length === 0
        ? 'none is'
        : `${data.pageIds.length} of them ${data.pageIds.length === 1 ? 'is' : 'are'}`}{' '}
      among the site’s {plural(site.pages, 'page')}.
      {data.unknownCount > 0 && (
        <span className="text-soft" title={data.unknown.join('\n')}>
          {' '}
          Of {data.unknown.slice(0, 2).join(' and ')}
          {data.unknownCount > 2 && ` and ${data.unknownCount - 2} more`} the site tells nothing.
        </span>
      )}
    </p>
  )
}
