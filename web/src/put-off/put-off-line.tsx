import type { PutOff } from '@unvelt/contract'
import { useWithdrawPutOff } from '../api/put-off.js'
import { dateTime } from '../figures/format.js'
import { toast } from '../parts/toast.js'

/** That drafts wait for their hour, or why they did not go live then. */
export function PutOffLine({ siteId, putOff }: { siteId: number; putOff: PutOff }) {
  const withdraw = useWithdrawPutOff(siteId)
  if (putOff.state !== 'waiting')
    return (
      <p role="status" className="flex items-center gap-4 border-b border-line bg-wash px-4 py-1.5 text-[13.5px]">
        <span className="min-w-0 flex-1">
          <b className="font-semibold text-plum">Did not go live {dateTime(putOff.dueAt)}.</b> {putOff.why}
        </span>
        <button
          type="button"
          disabled={withdraw.isPending}
          className="text-verdigris hover:underline"
          onClick={() => withdraw.mutate(putOff.id, { onError: (error) => toast.error(error.message) })}
        >
          Understood
        </button>
      </p>
    )
  return (
    <p role="status" className="flex items-center gap-4 border-b border-line bg-wash px-4 py-1.5 text-[13.5px]">
      <span className="min-w-0 flex-1 truncate">
        <b className="font-semibold">Goes live {dateTime(putOff.dueAt)}</b> by itself: {putOff.what}
      </span>
      <button
        type="button"
        disabled={withdraw.isPending}
        className="text-verdigris hover:underline"
        onClick={() =>
          withdraw.mutate(putOff.id, {
            onSuccess: () => toast('The drafts wait for nothing any more'),
            onError: (error) => toast.error(error.message),
          })
        }
      >
        Withdraw it
      </button>
    </p>
  )
}
