import { ChevronDown, ChevronUp } from 'lucide-react'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { toast } from 'sonner'
import type { Site } from '@unvelt/contract'
import { useApplyRules, useDrafts, useSweeps } from '../api/queries.js'
import { plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { DraftList } from '../rules/draft-list.js'
import { useDraft } from '../rules/use-draft.js'
import { SavingLine } from '../rules/saving.js'

/** Rises from the bottom as soon as there is a draft. */
export function DraftTray({ site }: { site: Site }) {
  const [open, setOpen] = useState(false)
  const { data: drafts } = useDrafts(site.id)
  const { data: sweeps = [] } = useSweeps(site.id)
  const draft = useDraft(site.id)
  const apply = useApplyRules(site.id)
  const navigate = useNavigate()
  if (!drafts || drafts.rules.length === 0) return null
  const sweeping = sweeps.some((sweep) => sweep.status === 'running')
  const putLive = () =>
    apply.mutate(null, {
      onSuccess: ({ version, proofId, steps }) => {
        toast.success(`Version ${version} is live`, { description: steps.join(' '), duration: 9000 })
        if (proofId !== null) void navigate(`/sites/${site.id}/proof/${proofId}`)
      },
      onError: (error) => toast.error('Nothing was put live', { description: error.message, duration: 12_000 }),
    })
  return (
    <section aria-label="Draft tray" className="border-t-2 border-verdigris bg-sheet">
      {open && (
        <div className="max-h-64 overflow-auto border-b border-line px-4 py-2">
          <DraftList site={site} rules={drafts.rules} />
        </div>
      )}
      <div className="flex h-13 items-center gap-4 px-4">
        <button
          type="button"
          aria-expanded={open}
          onClick={() => setOpen(!open)}
          className="flex items-center gap-1.5 font-semibold"
        >
          {open ? <ChevronDown size={16} aria-hidden /> : <ChevronUp size={16} aria-hidden />}
          {plural(drafts.rules.length, 'draft')}
        </button>
        <SavingLine prediction={drafts.prediction} />
        <div className="ml-auto flex gap-2">
          <Button weight="quiet" disabled={draft.isPending || apply.isPending} onClick={draft.clear}>
            Throw away
          </Button>
          <Button
            weight="main"
            disabled={apply.isPending || sweeping}
            title={sweeping ? 'A sweep is under way; the touched pages are read when it has ended.' : undefined}
            onClick={putLive}
          >
            {apply.isPending ? 'Putting live …' : 'Put live'}
          </Button>
        </div>
      </div>
    </section>
  )
}
