import { Check, X } from 'lucide-react'
import { useEffect, useRef } from 'react'
import { Link, useLocation } from 'react-router'
import type { NotCarriedOut, Site, Verification, VerifiedRule } from '@unvelt/contract'
import { useDrafts } from '../api/queries.js'
import { useVerification, useVerify } from '../api/verification.js'
import { dateTime, plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { Failed } from '../parts/notice.js'
import { toast } from '../parts/toast.js'
import { conditionWords, doingWords, placeWords, subjectWords } from '../rules/words.js'

const FEW = 3

/** Rules that a gate of the site's owner carries out: handed out as a file, and verified by looking at the pages. */
export function VerifyPart({ site }: { site: Site }) {
  const verification = useVerification(site.id)
  const { data: drafts } = useDrafts(site.id)
  const act = useVerify(site.id)
  const part = useRef<HTMLElement>(null)
  const { hash, key } = useLocation()
  const isHere = verification.data !== undefined && drafts !== undefined
  useEffect(() => {
    if (isHere && hash === '#gate') part.current?.scrollIntoView({ block: 'start' })
  }, [isHere, hash, key])
  if (verification.isError) return <Failed error={verification.error} retry={() => void verification.refetch()} />
  const data = verification.data
  if (!data || !drafts) return null
  const ask = (what: 'begin' | 'stop' | 'adopt') => act.mutate(what, { onError: (error) => toast.error(error.message) })
  const underWay = data.pagesDone < data.pages
  return (
    <section ref={part} aria-label="At your own gate" id="gate" className="border-t border-line px-4 pb-3">
      <h2 className="pt-4 pb-1 text-[17px]">At your own gate</h2>
      <p className="max-w-3xl text-soft">
        This site has no connector, so nothing goes live from here. <i>Save as a file</i> gives the rules to whatever
        stands before the site, or to whoever keeps its templates. <i>Verify</i> then reads the pages as visitors get
        them, and tells which rules hold.
      </p>
      <div className="mt-3 flex flex-wrap items-center gap-4">
        <a
          href={`/api/sites/${site.id}/rules/file?with=drafts`}
          download
          className="inline-flex h-8 items-center font-medium text-verdigris hover:underline"
        >
          Save as a file
        </a>
        {underWay ? (
          <>
            <p role="status" className="py-1.5">
              {data.pagesDone} of {plural(data.pages, 'page')} looked at …
            </p>
            <Button disabled={act.isPending} onClick={() => ask('stop')}>
              Stop
            </Button>
          </>
        ) : (
          <Button weight={data.holds ? 'plain' : 'main'} disabled={act.isPending} onClick={() => ask('begin')}>
            {data.pages === 0 ? 'Verify' : 'Verify again'}
          </Button>
        )}
        {data.holds && drafts.rules.length > 0 && (
          <Button weight="main" disabled={act.isPending} onClick={() => ask('adopt')}>
            Count {plural(drafts.rules.length, 'draft')} as live
          </Button>
        )}
        <span className="text-[13px] text-soft">{standWords(data, underWay)}</span>
      </div>
      {data.rules.length > 0 && data.pagesDone > 0 && <Rules siteId={site.id} rules={data.rules} />}
      {data.failed.length > 0 && (
        <ul aria-label="Pages that could not be looked at" className="mt-2 text-[13.5px] text-plum">
          {data.failed.map(({ pageId, path, why }) => (
            <li key={pageId}>
              {path}: {why}
            </li>
          ))}
        </ul>
      )}
    </section>
  )
}

function standWords({ pages, stale, holds, takenAt }: Verification, underWay: boolean): string {
  if (underWay || pages === 0 || takenAt === null) return ''
  if (stale !== null) return `Looked at ${dateTime(takenAt)}; ${stale}`
  return `${holds ? 'All of it holds' : 'Not all of it holds'}, looked at ${dateTime(takenAt)}.`
}

function Rules({ siteId, rules }: { siteId: number; rules: VerifiedRule[] }) {
  return (
    <ul aria-label="Verified rules" className="mt-2 max-w-4xl">
      {rules.map(({ rule, isDraft, views, left, unknown }) => (
        <li key={rule.id} className="flex items-start gap-3 border-t border-line/60 py-1.5">
          <Sign left={left.length} views={views} />
          <div className="min-w-0 flex-1">
            <p>
              <b className="font-semibold">{subjectWords(rule)}</b> {doingWords(rule)}{' '}
              {[placeWords(rule.place), conditionWords(rule)].filter(Boolean).join(', ')}
              {isDraft && <span className="text-soft"> – draft</span>}
            </p>
            <p className="text-[13px] text-soft">{viewWords(views, left.length, unknown)}</p>
            <ul className="text-[13px]">
              {left.slice(0, FEW).map((one) => (
                <li key={`${one.pageId} ${one.lens}`} className="[overflow-wrap:anywhere]">
                  <Link
                    className="text-verdigris underline decoration-verdigris/40 underline-offset-2 hover:decoration-verdigris"
                    to={`/sites/${siteId}/pages/${one.pageId}`}
                  >
                    {one.path}
                  </Link>{' '}
                  <span className="text-soft">{leftWords(one)}</span>
                </li>
              ))}
              {left.length > FEW && <li className="text-soft">and {plural(left.length - FEW, 'view')} more</li>}
            </ul>
          </div>
        </li>
      ))}
    </ul>
  )
}

function Sign({ left, views }: { left: number; views: number }) {
  if (views === 0)
    return (
      <span role="img" aria-label="can’t be told" className="w-4 text-center text-soft">
        –
      </span>
    )
  return left === 0 ? (
    <Check size={16} role="img" aria-label="holds" className="mt-0.5 shrink-0 text-verdigris" />
  ) : (
    <X size={16} role="img" aria-label="does not hold" className="mt-0.5 shrink-0 text-plum" />
  )
}

function viewWords(views: number, left: number, unknown: number): string {
  const cant = unknown > 0 ? 'From outside it can’t be told whether it holds.' : ''
  if (views === 0) return cant || 'No page that was looked at has it.'
  const holds =
    left === 0
      ? `Holds on ${plural(views, 'view')}.`
      : left === views
        ? `Holds on none of ${plural(views, 'view')}:`
        : `Holds on ${views - left} of ${plural(views, 'view')}; not on:`
  return [holds, cant].filter(Boolean).join(' ')
}

function leftWords({ lens, inPage, arrived }: NotCarriedOut): string {
  const named = inPage.filter(Boolean).map(shortName)
  const inline = inPage.includes('') ? ['code of its own'] : []
  const brought = arrived.filter((address) => !inPage.includes(address)).map(shortName)
  const parts = [
    named.length + inline.length > 0 ? `in the page: ${listed([...named, ...inline])}` : '',
    brought.length > 0 ? `brought in by other code: ${listed(brought)}` : '',
    inPage.length + arrived.length === 0 ? 'it is not back' : '',
  ].filter(Boolean)
  return `(${lens}) ${parts.join('; ')}`
}

const listed = (names: string[]): string =>
  names.length > FEW ? `${names.slice(0, FEW).join(', ')} and ${names.length - FEW} more` : names.join(', ')

const shortName = (address: string): string =>
  URL.canParse(address) ? (new URL(address).pathname.split('/').findLast(Boolean) ?? new URL(address).host) : address
