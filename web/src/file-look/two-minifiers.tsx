import { Fragment } from 'react'
import { Link } from 'react-router'
import { isEmptied, minifiers, type LookedAtFile } from '@unvelt/contract'
import { useAddOns } from '../api/queries.js'
import { address } from '../pages/request-list.js'

/** That two add-ons make code smaller, one on what the other left, and files of which nothing runs as they come. */
export function TwoMinifiers({ siteId, files }: { siteId: number; files: readonly LookedAtFile[] }) {
  const { data: addOns = [] } = useAddOns(siteId)
  const both = minifiers(addOns.filter(({ gone }) => !gone))
  const emptied = [...new Set(files.filter(isEmptied).map(({ url }) => address(url).file))]
  if (both.length < 2 && emptied.length === 0) return null
  return (
    <div role="note" aria-label="Made smaller twice" className="mt-2 max-w-3xl border-l-2 border-plum pl-3">
      {both.length > 1 && (
        <p>
          {both.map(({ slug, name }, n) => (
            <Fragment key={slug}>
              {n > 0 && (n === both.length - 1 ? ' and ' : ', ')}
              <Link
                to={`/sites/${siteId}/add-ons/${encodeURIComponent(slug)}`}
                className="font-semibold text-verdigris hover:underline"
              >
                {name}
              </Link>
            </Fragment>
          ))}{' '}
          {both.length === 2 ? 'both' : 'all'} make code smaller, one on what the other left. One is enough.
        </p>
      )}
      {emptied.length > 0 && (
        <p>
          Nothing runs of {emptied.slice(0, 6).join(', ')}
          {emptied.length > 6 && ` and ${emptied.length - 6} more`}: as{' '}
          {emptied.length === 1 ? 'it comes' : 'they come'}, all is a comment
          {both.length > 1 && ', as when one of these joins lines that the other has shortened to a comment'}.
        </p>
      )}
    </div>
  )
}
