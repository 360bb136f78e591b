import { Link } from 'react-router'
import { findsNoMore, type GuardView, type RehearsalSheet, type RehearsedPage } from '@unvelt/contract'
import { plural } from '../figures/format.js'
import { FailedGuard } from './failed-guard.js'
import { PicturePair } from './picture-pair.js'
import { sidesOf } from './rehearsal-words.js'
import { RehearsedFigures } from './rehearsed-figures.js'

interface DetailProps {
  siteId: number
  sheet: RehearsalSheet
  page: RehearsedPage
}

/** One page of a rehearsal: what guards found, how it looks on either side, and what it loads. */
export function RehearsedPageDetail({ siteId, sheet, page }: DetailProps) {
  const { id: rehearsal, each } = sheet
  const failing = page.guards.filter(({ outcome }) => outcome === 'fails')
  const anyway = page.guards.flatMap((guard) => guard.anyway ?? [])
  return (
    <section
      aria-label={`${page.title}, ${page.lens}`}
      className="grid grid-cols-[minmax(0,1fr)_auto] gap-8 px-4 pt-4 pb-8"
    >
      <div className="min-w-0">
        <h2 className="text-[17px]">
          {page.title} <span className="font-sans text-[13px] font-normal text-soft">{page.lens}</span>{' '}
          <Link
            to={`/sites/${siteId}/preview?path=${encodeURIComponent(page.path)}`}
            className="font-sans text-[13px] font-normal text-verdigris hover:underline"
          >
            Look for yourself
          </Link>
        </h2>
        {page.state === 'done' && failing.length === 0 && (
          <p className="mt-1 text-soft">
            {page.guards.some(({ guard, outcome }) => guard === 'links' && outcome !== 'unknown') || !sheet.round
              ? 'Nothing is missed here, and nothing complains.'
              : 'It answers, nothing complains, and its steps can be done. There is nothing yet to hold its looks against.'}
          </p>
        )}
        {failing.length > 0 && (
          <ul aria-label="What guards found" className="mt-2 border-t border-line">
            {failing.map((guard) => (
              <FailedGuard
                key={guard.guard}
                siteId={siteId}
                sheet={sheet}
                page={page}
                guard={guard}
                others={
                  each.filter((other) => other !== page && other.guards.some((one) => failsAlike(one, guard))).length
                }
              />
            ))}
          </ul>
        )}
        {anyway.length > 0 && (
          <p className="mt-2 text-[13.5px] text-soft">
            {sheet.round
              ? 'It failed before, too: '
              : 'Without the drafts it fails as well, so they are not to blame: '}
            {anyway.join('; ')}
          </p>
        )}
        <div className="mt-3">
          <RehearsedFigures page={page} sides={sidesOf(sheet)} />
        </div>
        <Files title="asked for all the same, though it was to go" files={page.stayed} isBad />
        <Files title="not asked for any more" files={page.went} />
        <Files title="asked for in addition" files={page.cameToo} />
      </div>
      <PicturePair
        rehearsal={rehearsal}
        page={page}
        sides={sidesOf(sheet)}
        isAlone={
          sheet.round !== null &&
          page.guards.every(({ guard, outcome }) => guard !== 'picture' || outcome === 'unknown')
        }
      />
    </section>
  )
}

/** Whether a guard on another view fails, not accepted yet, for nothing but what it fails for here. */
const failsAlike = (other: GuardView, guard: GuardView): boolean =>
  other.outcome === 'fails' && !other.accepted && findsNoMore(other, guard)

function Files({ title, files, isBad = false }: { title: string; files: string[]; isBad?: boolean }) {
  if (files.length === 0) return null
  return (
    <details className="mt-2 text-[13.5px]" open={isBad}>
      <summary className={`cursor-pointer ${isBad ? 'text-plum' : ''}`}>
        {plural(files.length, 'file')} {title}
      </summary>
      <ul className="pl-4 text-soft">
        {files.map((file) => (
          <li key={file} className="[overflow-wrap:anywhere]">
            {file}
          </li>
        ))}
      </ul>
    </details>
  )
}
