import { useMutation } from '@tanstack/react-query'
import type { Paper } from '@unvelt/contract'
import { ApiError, call, callBytes } from './client.js'

const LOOK_AGAIN_MS = 700

/** Has a document printed by the measuring browser, and waits for it. */
export const usePrint = (site: number) =>
  useMutation({
    mutationFn: async ({ title, html }: { title: string; html: string }): Promise<Blob> => {
      let paper = await call<Paper>('POST', `/sites/${site}/papers`, { title, html })
      while (paper.state === 'printing') {
        // It is printed once there is somebody who can; whoever waits for it is told.
        if (paper.why !== null) throw new ApiError(0, { type: 'about:blank', status: 0, title: paper.why })
        await new Promise((resolve) => setTimeout(resolve, LOOK_AGAIN_MS))
        paper = await call<Paper>('GET', `/papers/${paper.id}`)
      }
      if (paper.state === 'failed')
        throw new ApiError(0, { type: 'about:blank', status: 0, title: paper.why ?? 'It could not be printed.' })
      return new Blob([await callBytes(`/papers/${paper.id}/pdf`)], { type: 'application/pdf' })
    },
  })
