import { useEffect, useEffectEvent } from 'react'
import { useQueryClient } from '@tanstack/react-query'
import type { Sweep } from '@unvelt/contract'
import { keys } from './queries.js'

/**
 * Keeps the list of sweeps current while they run, and asks for the figures again with every page that is done.
 * @param onEnd Called when a survey that was seen running has been read to its end.
 */
export function useFollowSweeps(site: number, onEnd: (sweep: Sweep) => void): void {
  const client = useQueryClient()
  const ended = useEffectEvent(onEnd)
  useEffect(() => {
    const source = new EventSource(`/api/sites/${site}/events`)
    // After a lost line nobody knows what was missed, so the list is asked for anew.
    source.addEventListener('open', () => void client.invalidateQueries({ queryKey: keys.sweeps(site) }))
    source.addEventListener('sweep', (event) => {
      const sweep = JSON.parse((event as MessageEvent<string>).data) as Sweep
      const before = client.getQueryData<Sweep[]>(keys.sweeps(site))?.find((s) => s.id === sweep.id)
      client.setQueryData<Sweep[]>(keys.sweeps(site), (old = []) =>
        old.some((s) => s.id === sweep.id) ? old.map((s) => (s.id === sweep.id ? sweep : s)) : [sweep, ...old],
      )
      if (sweep.purpose === 'proof') void client.invalidateQueries({ queryKey: keys.proofs(site) })
      if (sweep.pagesDone !== before?.pagesDone) void client.invalidateQueries({ queryKey: keys.ledger(site) })
      if (sweep.purpose === 'survey' && before?.status === 'running' && sweep.status === 'done') ended(sweep)
      if (sweep.status !== 'running') void client.invalidateQueries({ queryKey: keys.site(site) })
    })
    return () => source.close()
  }, [client, site])
}
