import { useState } from 'react'
import { useNavigate } from 'react-router'
import type { Site, Standing } from '@unvelt/contract'
import { useRehearse } from '../api/rehearsals.js'
import { useDrafts } from '../api/queries.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'
import { useDraft } from '../rules/use-draft.js'

const COUNTS = [3, 5, 10, 20]

/** One press drafts the best moves and rehearses them together; what breaks a guard is set aside, and the rest tried again. */
export function RehearseBest({ site, moves }: { site: Site; moves: Standing['moves'] }) {
  const [count, setCount] = useState(5)
  const draft = useDraft(site.id)
  const rehearse = useRehearse(site.id)
  const { data: drafts } = useDrafts(site.id)
  const navigate = useNavigate()
  const draftable = moves.filter(({ rules }) => rules.length > 0)
  if (draftable.length === 0) return null
  const counts = COUNTS.filter((n) => n < draftable.length)
  const begin = async () => {
    const isAside = (addon: string) => drafts?.aside.some(({ rule }) => rule.addon === addon) ?? false
    const rules = draftable
      .slice(0, count)
      .flatMap((move) => move.rules)
      .filter(({ addon }) => !isAside(addon))
    try {
      if (rules.length > 0) await draft.addNow(rules)
      const { id } = await rehearse.mutateAsync({ best: true })
      await navigate(`/sites/${site.id}/rules/rehearsals/${id}`)
    } catch (error) {
      toast.error('Nothing is rehearsed', { description: (error as Error).message })
    }
  }
  return (
    <div className="mt-3 flex items-center gap-2">
      <Button weight="main" disabled={draft.isPending || rehearse.isPending} onClick={() => void begin()}>
        Rehearse the best
      </Button>
      <select
        aria-label="How many moves"
        className="h-8 border border-line bg-paper px-2"
        value={count}
        onChange={(event) => setCount(Number(event.target.value))}
      >
        {counts.map((n) => (
          <option key={n} value={n}>
            {n} moves
          </option>
        ))}
        <option value={draftable.length}>all {draftable.length}</option>
      </select>
      <span className="text-[13px] text-soft">
        Drafts them, tries them together on the real pages, and sets aside what breaks a guard. Nothing goes live.
      </span>
    </div>
  )
}
