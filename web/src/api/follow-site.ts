import { useEffect, useEffectEvent } from 'react'
import { useQueryClient, type QueryClient } from '@tanstack/react-query'
import type { Deployment, Preview, Rehearsal, Sweep } from '@unvelt/contract'
import { draftsChanged, keys } from './queries.js'

interface Ends {
  /** A survey that was seen running has been read to its end. */
  sweep: (sweep: Sweep) => void
  /** A change of rules that was seen under way is over. */
  deployment: (deployment: Deployment) => void
  /** A rehearsal that was seen running is over. */
  rehearsal: (rehearsal: Rehearsal) => void
}

/** Keeps what goes on at a site current: its sweeps, with the figures of every page that is done, and changes of its rules. */
export function useFollowSite(site: number, ends: Ends): void {
  const client = useQueryClient()
  const sweepEnded = useEffectEvent(ends.sweep)
  const deploymentEnded = useEffectEvent(ends.deployment)
  const rehearsalEnded = useEffectEvent(ends.rehearsal)
  useEffect(() => {
    const source = new EventSource(`/api/sites/${site}/events`)
    // After a lost line nobody knows what was missed, so the lists are asked for anew.
    source.addEventListener('open', () => {
      void client.invalidateQueries({ queryKey: keys.sweeps(site) })
      void client.invalidateQueries({ queryKey: keys.deployments(site) })
      void client.invalidateQueries({ queryKey: keys.rehearsals(site) })
      void client.invalidateQueries({ queryKey: keys.retirements(site) })
    })
    source.addEventListener('sweep', (event) => {
      const sweep = JSON.parse((event as MessageEvent<string>).data) as Sweep
      const before = keep(client, keys.sweeps(site), sweep)
      if (sweep.purpose === 'proof' || sweep.purpose === 'shares')
        void client.invalidateQueries({ queryKey: keys.proofs(site) })
      if (sweep.purpose === 'weigh-in') void client.invalidateQueries({ queryKey: keys.weighIns(site) })
      if (sweep.pagesDone !== before?.pagesDone) void client.invalidateQueries({ queryKey: keys.ledger(site) })
      if (sweep.purpose === 'survey' && before?.status === 'running' && sweep.status === 'done') sweepEnded(sweep)
      if (sweep.status !== 'running') void client.invalidateQueries({ queryKey: keys.site(site) })
    })
    source.addEventListener('sweep-gone', () => void client.invalidateQueries({ queryKey: keys.site(site) }))
    source.addEventListener('deployment', (event) => {
      const deployment = JSON.parse((event as MessageEvent<string>).data) as Deployment
      const before = keep(client, keys.deployments(site), deployment)
      // Live, it is looked after for a while, and what was a draft is none any more.
      const isNewlyLive = deployment.state === 'live' && before?.state !== 'live'
      if (deployment.finishedAt === null && !isNewlyLive) return
      void client.invalidateQueries({ queryKey: keys.site(site) })
      if (before && before.finishedAt === null && deployment.finishedAt !== null) deploymentEnded(deployment)
    })
    source.addEventListener('rehearsal', (event) => {
      const rehearsal = JSON.parse((event as MessageEvent<string>).data) as Rehearsal
      const before = keep(client, keys.rehearsals(site), rehearsal)
      void client.invalidateQueries({ queryKey: [...keys.rehearsals(site), rehearsal.id] })
      void client.invalidateQueries({ queryKey: keys.gentler(site) })
      // What was found to break a guard is set aside by itself.
      if (rehearsal.best && rehearsal.state !== 'running')
        void Promise.all([client.invalidateQueries({ queryKey: keys.drafts(site) }), draftsChanged(client, site)])
      if (before?.state === 'running' && rehearsal.state !== 'running') {
        rehearsalEnded(rehearsal)
        void client.invalidateQueries({ queryKey: keys.retirements(site) })
      }
    })
    source.addEventListener('retirement', () => {
      void client.invalidateQueries({ queryKey: keys.retirements(site) })
      // What was switched or removed is another inventory.
      void client.invalidateQueries({ queryKey: [...keys.site(site), 'add-ons'] })
    })
    source.addEventListener('preview', (event) => {
      const preview = JSON.parse((event as MessageEvent<string>).data) as Preview
      // Other tabs have previews of their own.
      if (client.getQueryData<Preview>(keys.preview)?.id === preview.id) client.setQueryData(keys.preview, preview)
    })
    return () => source.close()
  }, [client, site])
}

/** Puts what is new into a list, newest first. @returns what was there of it before. */
function keep<T extends { id: number }>(client: QueryClient, key: readonly unknown[], one: T): T | undefined {
  const before = client.getQueryData<T[]>(key)?.find(({ id }) => id === one.id)
  client.setQueryData<T[]>(key, (old = []) =>
    old.some(({ id }) => id === one.id) ? old.map((each) => (each.id === one.id ? one : each)) : [one, ...old],
  )
  return before
}
