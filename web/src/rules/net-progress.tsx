import { Link } from 'react-router'
import { useRehearsals, useStopRehearsal } from '../api/rehearsals.js'
import { plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'
import { rehearsalWords } from '../rehearsal/rehearsal-words.js'

/**
 * How far the guards of a change that is live are played; whoever does not want to wait for them leaves it live. Of a first part
 * nobody knows then whether it holds, so it goes.
 */
export function NetProgress({ siteId, netId, isFirst }: { siteId: number; netId: number; isFirst: boolean }) {
  const { data: rehearsals = [] } = useRehearsals(siteId)
  const stop = useStopRehearsal(siteId)
  const net = rehearsals.find(({ id }) => id === netId)
  return (
    <span className="flex shrink-0 items-baseline gap-2 text-[13px]">
      <Link to={`/sites/${siteId}/rules/rehearsals/${netId}`} className="text-verdigris hover:underline">
        {net?.state === 'running'
          ? `Guards played on ${net.pagesDone} of ${plural(net.pages, 'view')}`
          : net
            ? rehearsalWords(net)
            : 'Its guards'}
      </Link>
      {net?.state === 'running' && (
        <Button
          weight="quiet"
          className="h-6!"
          disabled={stop.isPending}
          onClick={() => stop.mutate(netId, { onError: (error) => toast.error(error.message) })}
        >
          {isFirst ? 'Take it back now' : 'Leave it live'}
        </Button>
      )}
    </span>
  )
}
