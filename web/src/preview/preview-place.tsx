import { ExternalLink, RotateCw } from 'lucide-react'
import { useEffect, useState } from 'react'
import { useParams, useSearchParams } from 'react-router'
import type { Page, Preview, PreviewChange, Site } from '@unvelt/contract'
import { useFollowSite } from '../api/follow-site.js'
import { isWindow, useChangePreview, usePreview } from '../api/previews.js'
import { usePages, useSites } from '../api/queries.js'
import { clockTime } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { Failed, Loading, Notice } from '../parts/notice.js'
import { toast } from '../parts/toast.js'
import { DraftSwitches } from './draft-switches.js'
import { OpenPreview } from './open-preview.js'
import { PageChoice } from './page-choice.js'
import { PreviewFrame } from './preview-frame.js'
import { RecordedSteps } from './recorded-steps.js'

/** A page of the site as the drafts would make it, with the drafts beside it. */
export function PreviewPlace() {
  return isWindow() ? <PreviewWindow /> : <OpenPreview />
}

function PreviewWindow() {
  const { site: id } = useParams()
  const sites = useSites()
  const site = sites.data?.find((one) => String(one.id) === id)
  if (sites.isPending) return <Loading what="the site" />
  if (sites.isError) return <Failed error={sites.error} retry={() => void sites.refetch()} />
  if (!site) return <Notice title="There is no such site here">It may have been removed.</Notice>
  return <PreviewOf site={site} />
}

const NOBODY = { sweep: () => {}, deployment: () => {}, rehearsal: () => {} }

function PreviewOf({ site }: { site: Site }) {
  useFollowSite(site.id, NOBODY)
  const preview = usePreview()
  const pages = usePages(site.id)
  if (preview.isPending || pages.isPending) return <Loading what="the preview" />
  if (preview.isError) return <Failed error={preview.error} retry={() => void preview.refetch()} />
  if (pages.isError) return <Failed error={pages.error} retry={() => void pages.refetch()} />
  return <Shown key={preview.data.id} site={site} preview={preview.data} pages={pages.data} />
}

/** What is asked of the frame: a page, anew whenever the number changes. */
interface Wanted {
  path: string
  time: number
}

function Shown({ site, preview, pages }: { site: Site; preview: Preview; pages: Page[] }) {
  const [search, setSearch] = useSearchParams()
  const change = useChangePreview()
  useEffect(() => {
    // What let this window in need not stand in its address.
    setSearch(
      (old) => {
        const next = new URLSearchParams(old)
        next.delete('key')
        next.delete('look')
        return next
      },
      { replace: true },
    )
  }, [setSearch])
  const [wanted, setWanted] = useState<Wanted>({ path: search.get('path') ?? pages[0]?.path ?? '/', time: 0 })
  const here = preview.path ?? wanted.path
  const goTo = (path: string) => {
    setWanted(({ time }) => ({ path, time: time + 1 }))
    setSearch({ path }, { replace: true })
  }
  const apply = (what: PreviewChange) =>
    change.mutate(
      { id: preview.id, ...what },
      { onSuccess: () => goTo(here), onError: (error) => toast.error(error.message) },
    )
  return (
    <div className="grid h-dvh grid-rows-[auto_minmax(0,1fr)]">
      <header className="flex min-h-12 flex-wrap items-center gap-x-4 gap-y-1 border-b border-line px-4 py-1">
        <a
          href={`${preview.openedFrom ?? ''}/sites/${site.id}/rules`}
          className="shrink-0 text-verdigris hover:underline"
        >
          Back to {site.name}
        </a>
        <PageChoice pages={pages} here={here} onChoose={goTo} />
        {preview.status !== null && preview.status >= 400 && (
          <span role="status" className="shrink-0 text-plum">
            The site answered {preview.status}.
          </span>
        )}
        <div className="ml-auto flex shrink-0 flex-wrap items-center gap-2 max-md:shrink">
          <DeviceChoice preview={preview} onChange={(device) => apply({ device })} />
          <Button weight="quiet" aria-label="Load the page anew" onClick={() => goTo(here)}>
            <RotateCw size={15} aria-hidden />
          </Button>
          <a
            href={preview.address + here}
            target="_blank"
            rel="noreferrer"
            className="inline-flex items-center gap-1 text-verdigris hover:underline"
          >
            In a tab of its own <ExternalLink size={14} aria-hidden />
          </a>
        </div>
      </header>
      <div className="grid min-h-0 grid-cols-[minmax(0,1fr)_300px] max-md:grid-cols-[minmax(0,1fr)] max-md:grid-rows-[minmax(0,1fr)_minmax(0,35%)]">
        <PreviewFrame preview={preview} path={wanted.path} time={wanted.time} />
        <aside
          aria-label="What is tried"
          className="flex min-h-0 flex-col overflow-auto border-l border-line max-md:border-t max-md:border-l-0"
        >
          <DraftSwitches
            siteId={site.id}
            preview={preview}
            isPending={change.isPending}
            onChange={(off) => apply({ off })}
          />
          <RecordedSteps
            site={site}
            preview={preview}
            path={here}
            pages={pages}
            onRecord={(recording) => apply({ recording })}
          />
          <p className="mt-auto border-t border-line px-4 py-3 text-[12.5px] text-soft">
            {preview.mechanism === 'site'
              ? 'The site itself makes the pages under these drafts, for this preview and for nobody else.'
              : 'The pages of the site pass through a gate that applies these drafts. No visitor sees them.'}{' '}
            What you send or sign in to here reaches the real site. The preview lasts until{' '}
            {clockTime(preview.expiresAt)}.
          </p>
        </aside>
      </div>
    </div>
  )
}

function DeviceChoice({ preview, onChange }: { preview: Preview; onChange(device: Preview['device']): void }) {
  return (
    <div role="radiogroup" aria-label="Device" className="flex border border-line">
      {(['desk', 'handset'] as const).map((device) => (
        <button
          key={device}
          type="button"
          role="radio"
          aria-checked={preview.device === device}
          onClick={() => preview.device !== device && onChange(device)}
          className="h-8 px-3 text-soft hover:text-ink aria-checked:bg-wash aria-checked:font-semibold aria-checked:text-ink"
        >
          {device === 'desk' ? 'Desk' : 'Handset'}
        </button>
      ))}
    </div>
  )
}
