import { Link } from 'react-router'
import type { NewComplaintView } from '@unvelt/contract'
import { useNewComplaints } from '../api/complaints.js'
import { dateTime, plural } from '../figures/format.js'

const MOST_SHOWN = 5

/** What pages complain of and did not in the sweep before: mostly an update that broke something. */
export function NewComplaints({ siteId, sweep }: { siteId: number; sweep: string | null }) {
  const { data } = useNewComplaints(siteId, sweep)
  if (!data || data.news.length === 0) return null
  const { news, earlierAt } = data
  const count = new Set(news.flatMap(({ pages }) => pages.map(({ id }) => id))).size
  return (
    <section aria-label="Complains anew" role="status" className="mt-3 max-w-3xl border-l-2 border-plum pl-3">
      <p>
        {plural(count, 'page')} {count === 1 ? 'complains' : 'complain'} of what{' '}
        {earlierAt ? `nobody heard on ${dateTime(earlierAt)}` : 'was not heard before'}:
      </p>
      <ul>
        {news.slice(0, MOST_SHOWN).map((one) => (
          <Entry key={`${one.kind} ${one.text}`} siteId={siteId} complaint={one} />
        ))}
      </ul>
      {news.length > MOST_SHOWN && <p className="text-soft">and {plural(news.length - MOST_SHOWN, 'other thing')}.</p>}
    </section>
  )
}

function Entry({ siteId, complaint: { text, pages } }: { siteId: number; complaint: NewComplaintView }) {
  const [first] = pages
  if (!first) return null
  return (
    <li className="break-words">
      <span className="text-plum">{text}</span> on{' '}
      <Link
        to={`/sites/${siteId}/pages/${first.id}?view=console`}
        className="text-verdigris underline underline-offset-2"
      >
        {first.title}
      </Link>
      {pages.length > 1 && ` and ${plural(pages.length - 1, 'other page')}`}
    </li>
  )
}
