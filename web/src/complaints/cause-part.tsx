import { useState } from 'react'
import { Link } from 'react-router'
import type { CauseSearch, CauseStageView, Page, Site } from '@unvelt/contract'
import { useSmallerPage, useStopCause } from '../api/complaints.js'
import { Narrowing } from '../culprit/narrowing.js'
import { plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'
import { authorNote } from './author-note.js'
import { CutDownButton, SmallerPage } from './smaller-page.js'
import { nameIn, outcomeWords, readingsOf, runningWords, saysOf } from './cause-words.js'

const TITLES: Record<CauseStageView['level'], string> = {
  earlier: 'Put back as it was',
  absent: 'Left out one by one',
  addon: 'Among add-ons',
  feature: 'Among its features',
  file: 'Among its files',
  version: 'Among its other versions',
}

interface CausePartProps {
  site: Site
  page: Pick<Page, 'path'>
  search: CauseSearch
}

/** How the search for what a page complains for stands, how it narrowed, and what can be done with what was found. */
export function CausePart({ site, page, search }: CausePartProps) {
  const stop = useStopCause(site.id)
  const [isNoted, setNoted] = useState(false)
  const running = search.state === 'running'
  const guilty = search.state === 'done' ? search.guilty : []
  // What it complains for can be cut out of the page whoever is guilty, as long as it complains.
  const canCutDown = search.kind !== 'guard' && search.state === 'done' && search.stages[0]?.outcome !== 'never'
  const { data: smaller } = useSmallerPage(site.id, search.id, canCutDown)
  return (
    <div role="group" aria-label="What causes it" className="mt-1.5 border-l-2 border-line py-1 pl-3">
      <p className="flex items-center gap-3" aria-live="polite">
        <span className={guilty.length > 0 ? 'flex-1 font-semibold' : 'flex-1'}>
          {running ? runningWords(search) : outcomeWords(search)}
        </span>
        {running && (
          <Button
            weight="quiet"
            disabled={stop.isPending}
            onClick={() => stop.mutate(search, { onError: (error) => toast.error(error.message) })}
          >
            Stop
          </Button>
        )}
      </p>
      {search.place && !running && <p className="text-[13px] break-all text-soft">Seen at {search.place}</p>}
      {(guilty.length > 0 || canCutDown) && (
        <div className="mt-1 flex flex-wrap items-center gap-2">
          {guilty.length > 0 && (
            <Button onClick={() => setNoted(!isNoted)} aria-expanded={isNoted}>
              A note for its author
            </Button>
          )}
          {guilty.map(({ slug, name }) => (
            <Link
              key={slug}
              to={`/sites/${site.id}/add-ons/${encodeURIComponent(slug)}`}
              className="text-verdigris underline underline-offset-2"
            >
              {name}
            </Link>
          ))}
          {canCutDown && smaller?.state === 'none' && <CutDownButton siteId={site.id} search={search} />}
        </div>
      )}
      {smaller && smaller.state !== 'none' && <SmallerPage siteId={site.id} search={search} data={smaller} />}
      {isNoted && <Note text={authorNote(search, site, page, { browser: 'Chromium', smallest: smaller ?? null })} />}
      {search.stages.map((stage) => (
        <details key={stage.level} open={running && stage.outcome === null} className="mt-1 text-[13px]">
          <summary className="cursor-pointer text-verdigris">
            {TITLES[stage.level]}: {plural(readingsOf(stage), 'reading')} of {plural(stage.tries.length, 'set')}
          </summary>
          <Narrowing
            search={{ ...stage, culprits: stage.outcome === 'found' ? stage.found : null }}
            words={(id) => nameIn(stage, id)}
            says={saysOf(search, stage)}
            knowsAll={false}
            mends={stage.mends}
          />
        </details>
      ))}
    </div>
  )
}

function Note({ text }: { text: string }) {
  const copy = () =>
    navigator.clipboard.writeText(text).then(
      () => toast('The note is in the clipboard.'),
      () => toast.error('The browser would not let it be copied; it can be selected here.'),
    )
  return (
    <div className="mt-2 max-w-3xl border border-line bg-sheet">
      <pre aria-label="Note" className="overflow-x-auto p-3 font-sans text-[13.5px] break-words whitespace-pre-wrap">
        {text}
      </pre>
      <p className="border-t border-line/60 p-2">
        <Button onClick={() => void copy()}>Copy it</Button>
      </p>
    </div>
  )
}
