import type { PageSheet } from '@unvelt/contract'
import { Notice } from '../parts/notice.js'

/** The page as the lens saw it, from top to bottom. */
export function PictureView({ siteId, sheet: { page, sweepId, picture } }: { siteId: number; sheet: PageSheet }) {
  if (!picture)
    return (
      <Notice title="No picture was taken">The first repeat of a sweep takes one, after the page was scrolled.</Notice>
    )
  return (
    <figure className="px-4 py-4">
      <figcaption className="mb-3 text-soft">
        Taken after the timing, once the page had been scrolled through: {picture.width} × {picture.height} pixels.
      </figcaption>
      <img
        src={`/api/sites/${siteId}/pages/${page.id}/picture?sweep=${sweepId}`}
        alt={`${page.title} as it was read`}
        width={picture.width}
        height={picture.height}
        className="h-auto w-full max-w-3xl border border-line"
      />
    </figure>
  )
}
