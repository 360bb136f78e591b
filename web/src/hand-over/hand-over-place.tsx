import { useDeferredValue, useMemo, useRef } from 'react'
import { Link, useParams } from 'react-router'
import type { Drafts, LiveRules, Proof } from '@unvelt/contract'
import { useDrafts, useLiveRules, useProof } from '../api/queries.js'
import { usePrint } from '../api/papers.js'
import { useSite } from '../frame/site-context.js'
import { Button } from '../parts/button.js'
import { download } from '../parts/download.js'
import { Failed, Loading } from '../parts/notice.js'
import { useRemembered } from '../parts/remembered.js'
import { toast } from '../parts/toast.js'
import { NO_LETTERHEAD, type Letterhead } from './letterhead.js'
import { LetterheadForm } from './letterhead-form.js'
import { fileName, paperFolder, paperHtml, proofCsv, proofJson } from './paper-files.js'

/** A proof as it is handed over, with all the ways to do so. */
export function HandOverPlace() {
  const site = useSite()
  const proof = useProof(site.id, Number(useParams().proof))
  const live = useLiveRules(site.id)
  const drafts = useDrafts(site.id)
  const failed = [proof, live, drafts].find(({ isError }) => isError)
  if (failed) return <Failed error={failed.error!} retry={() => void failed.refetch()} />
  // A paper without what was changed would be handed over as if nobody knew it.
  if (!proof.data || !live.data || !drafts.data) return <Loading what="the proof" />
  return <HandOver proof={proof.data} live={live.data} drafts={drafts.data} />
}

function HandOver({ proof, live, drafts }: { proof: Proof; live: LiveRules; drafts: Drafts }) {
  const site = useSite()
  const [letterhead, setLetterhead] = useRemembered<Letterhead>('unvelt.letterhead', NO_LETTERHEAD)
  const shown = useDeferredValue(letterhead)
  const frame = useRef<HTMLIFrameElement>(null)
  const print = usePrint(site.id)
  const props = useMemo(() => {
    const version = (wanted: number) =>
      wanted === 0 ? [] : (live.versions.find((one) => one.version === wanted)?.rules ?? null)
    return {
      site,
      proof,
      before: version(proof.fromVersion),
      after: version(proof.toVersion),
      aside: drafts.aside,
      letterhead: shown,
      origin: location.origin,
    }
  }, [site, proof, live, drafts, shown])
  const html = useMemo(() => paperHtml(props), [props])
  const name = fileName(proof)
  const save = (ending: string, content: BlobPart, type: string) =>
    download(`${name}${ending}`, new Blob([content], { type }))
  const asPdf = () =>
    print.mutate(
      { title: name, html },
      {
        onSuccess: (pdf) => download(`${name}.pdf`, pdf),
        onError: (error) => toast.error('It was not printed', { description: error.message }),
      },
    )
  const running = proof.sweep.status === 'running'
  return (
    <div className="flex h-full flex-col">
      <header className="flex flex-wrap items-end justify-between gap-x-6 gap-y-2 border-b border-line px-4 pt-4 pb-3">
        <div className="min-w-0">
          <p className="text-[13px]">
            <Link to={`/sites/${site.id}/proof/${proof.id}`} className="text-verdigris underline underline-offset-2">
              Proof
            </Link>
          </p>
          <h1 className="mt-0.5 text-[22px]">Hand it over</h1>
          <p className="mt-0.5 text-soft">
            {running
              ? 'It is being read still, so its figures may change.'
              : 'What stands below, and nothing else, is in every file.'}
          </p>
        </div>
        <div className="flex flex-wrap gap-2">
          <Button weight="main" disabled={print.isPending} onClick={asPdf}>
            {print.isPending ? 'Printing …' : 'PDF'}
          </Button>
          <Button onClick={() => frame.current?.contentWindow?.print()}>Print …</Button>
          <Button
            title="One folder, packed: the paper, its figures and all readings. It opens from disk."
            onClick={() => save('.zip', paperFolder(props), 'application/zip')}
          >
            Folder
          </Button>
          <Button onClick={() => save('.csv', proofCsv(proof), 'text/csv')}>CSV</Button>
          <Button onClick={() => save('.json', proofJson(proof), 'application/json')}>JSON</Button>
        </div>
      </header>
      <LetterheadForm letterhead={letterhead} onChange={setLetterhead} />
      <iframe
        ref={frame}
        title="The paper"
        // No script of its own runs in it; it is printed from here.
        sandbox="allow-same-origin allow-modals"
        srcDoc={html}
        className="min-h-0 flex-1 border-0 bg-white"
      />
    </div>
  )
}
