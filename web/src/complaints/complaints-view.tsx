import { Link } from 'react-router'
import type { CauseSearch, ComplaintView, Page, PageComplaints, Site } from '@unvelt/contract'
import { useCause, usePageComplaints } from '../api/complaints.js'
import { dateTime } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { Failed, Loading, Notice } from '../parts/notice.js'
import { toast } from '../parts/toast.js'
import { CausePart } from './cause-part.js'
import { changeWords } from './cause-words.js'

/** What the page complains of, since when, and what it complains for. */
export function ComplaintsView({ site, page }: { site: Site; page: Page }) {
  const { data, error, isPending, refetch } = usePageComplaints(site.id, page.id)
  if (isPending) return <Loading what="what the page complains of" />
  if (error) return <Failed error={error} retry={() => void refetch()} />
  // What was looked into stays to be read, though it is mended by now.
  const past = data.searches.filter((search) => !data.complaints.some((one) => isAbout(search, one)))
  if (data.complaints.length === 0 && past.length === 0)
    return (
      <Notice title="The page complained about nothing">
        Its console stayed empty, and every request was answered.
      </Notice>
    )
  return (
    <div className="px-4 pt-3 pb-10">
      <Since siteId={site.id} complaints={data} />
      <ul aria-label="Complaints">
        {data.complaints.map((complaint) => (
          <Entry key={`${complaint.kind} ${complaint.text}`} {...{ site, page, complaint, data }} />
        ))}
      </ul>
      {past.length > 0 && (
        <section aria-label="Looked into before" className="mt-5">
          <h2 className="text-[17px]">Looked into before</h2>
          <ul>
            {past.map((search) => (
              <li key={search.id} className="border-b border-line/60 py-1.5">
                <p className="break-words text-soft">{search.text}</p>
                <CausePart site={site} page={page} search={search} />
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  )
}

const isAbout = (a: Pick<CauseSearch, 'kind' | 'text'>, b: Pick<ComplaintView, 'kind' | 'text'>) =>
  a.kind === b.kind && a.text === b.text

/** What was otherwise in the sweep before, which is where one looks first. */
function Since({ siteId, complaints }: { siteId: number; complaints: PageComplaints }) {
  const { readAt, earlierAt, changed } = complaints
  if (readAt === null) return null
  const fresh = complaints.complaints.filter(({ isNew }) => isNew).length
  return (
    <p className="pb-2 text-soft">
      Heard when the page was read last, on {dateTime(readAt)}. {earlierWords(fresh, complaints)}
      {earlierAt !== null && changed.length > 0 && (
        <>
          {' '}
          Since then:{' '}
          {changed.map((one, n) => (
            <span key={one.slug}>
              {n > 0 && ', '}
              <Link
                to={`/sites/${siteId}/add-ons/${encodeURIComponent(one.slug)}`}
                className="text-ink underline underline-offset-2"
              >
                {one.name}
              </Link>{' '}
              {changeWords(one)}
            </span>
          ))}
          .
        </>
      )}
    </p>
  )
}

function earlierWords(fresh: number, { complaints, earlierAt }: PageComplaints): string {
  if (earlierAt === null) return 'No sweep before that has read it.'
  const at = dateTime(earlierAt)
  if (fresh === 0) return `All of it was heard before, on ${at}.`
  return fresh === complaints.length
    ? `None of it was heard before, on ${at}.`
    : `${fresh} of ${complaints.length} were not heard before, on ${at}.`
}

interface EntryProps {
  site: Site
  page: Page
  complaint: ComplaintView
  data: PageComplaints
}

function Entry({ site, page, complaint, data }: EntryProps) {
  const cause = useCause(site.id, page.id)
  const search = data.searches.find((one) => isAbout(one, complaint))
  const isBusy = data.searches.some(({ state }) => state === 'running')
  const find = () =>
    cause.mutate({ kind: complaint.kind, text: complaint.text }, { onError: (error) => toast.error(error.message) })
  return (
    <li className="border-b border-line/60 py-2">
      <div className="flex items-start gap-4">
        <p className="min-w-0 flex-1 break-words">
          {complaint.kind === 'requests' && <span className="text-soft">No answer: </span>}
          {complaint.text}
          {complaint.isNew && <span className="ml-2 text-[12.5px] text-plum">new since the sweep before</span>}
        </p>
        {search?.state !== 'running' && (
          <Button disabled={cause.isPending || isBusy} onClick={find}>
            {search ? 'Look again' : 'What causes it?'}
          </Button>
        )}
      </div>
      {search && <CausePart site={site} page={page} search={search} />}
    </li>
  )
}
