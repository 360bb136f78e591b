import { useNavigate } from 'react-router'
import type { RehearsalSheet } from '@unvelt/contract'
import { usePlayGuards, useTakeAsSound } from '../api/rehearsals.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'

/** What can be done with a round of guards on the live site: take it as what later ones are held against, or play another. */
export function RoundActions({ siteId, sheet }: { siteId: number; sheet: RehearsalSheet }) {
  const play = usePlayGuards(siteId)
  const take = useTakeAsSound(siteId)
  const navigate = useNavigate()
  const onError = (error: Error) => toast.error(error.message)
  const again = { pageIds: [...new Set(sheet.each.map(({ pageId }) => pageId))].slice(0, 200) }
  return (
    <div className="flex items-center gap-2">
      {sheet.state === 'done' && sheet.round!.sound && (
        <span className="text-[13px] text-soft">Later rounds are held against this one</span>
      )}
      {sheet.state === 'done' && !sheet.round!.sound && (
        <Button disabled={take.isPending} onClick={() => take.mutate(sheet.id, { onError })}>
          It is as it should be
        </Button>
      )}
      <Button
        disabled={play.isPending}
        onClick={() =>
          play.mutate(again, {
            onError,
            onSuccess: ({ id }) => void navigate(`/sites/${siteId}/rules/rehearsals/${id}`),
          })
        }
      >
        Play them again
      </Button>
    </div>
  )
}
