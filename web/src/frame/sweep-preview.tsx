import { keepPreviousData, useQuery } from '@tanstack/react-query'
import type { Site, SweepPages } from '@unvelt/contract'
import { call } from '../api/client.js'
import { keys } from '../api/queries.js'
import { isWhole, requestOf, type Choice } from './page-choice-request.js'
import { previewWords } from './preview-words.js'

interface SweepPreviewProps {
  site: Site
  /** None yet, as long as it is not known which there are. */
  lensIds: number[] | null
  choice: Choice
  repeats: number
}

/** How many pages a sweep would read, and how much of the site's visits falls on them. */
export function SweepPreview({ site, lensIds, choice, repeats }: SweepPreviewProps) {
  const request = { lensIds: lensIds ?? [], ...requestOf(choice) }
  const preview = useQuery({
    queryKey: [...keys.site(site.id), 'sweep-preview', request],
    queryFn: () => call<SweepPages[]>('POST', `/sites/${site.id}/sweeps/preview`, request),
    enabled: (lensIds ?? []).length > 0 && isWhole(choice),
    placeholderData: keepPreviousData,
    retry: false,
  })
  if (preview.isError)
    return (
      <p role="alert" className="text-plum">
        {preview.error.message}
      </p>
    )
  const missing =
    lensIds?.length === 0
      ? 'Choose a lens.'
      : !isWhole(choice)
        ? 'No page is chosen yet.'
        : preview.data
          ? null
          : 'Counting …'
  return (
    <p className={missing === null ? 'figures' : 'text-soft'} role="status">
      {missing ?? previewWords(preview.data!, choice, repeats)}
    </p>
  )
}
