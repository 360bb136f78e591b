import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { SiteStep, SiteSteps, StepRecording } from '@unvelt/contract'
import { call } from '../api/client.js'
import { keys } from '../api/queries.js'

const stepsKey = (site: number) => [...keys.site(site), 'steps']

export const useSteps = (site: number) =>
  useQuery({ queryKey: stepsKey(site), queryFn: () => call<SiteSteps>('GET', `/sites/${site}/steps`) })

type Change = { do: 'put'; steps: SiteStep[] } | { do: 'forget' } | { do: 'take in'; recording: StepRecording }

export function useChangeSteps(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (change: Change): Promise<SiteSteps> => {
      const path = `/sites/${site}/steps`
      if (change.do === 'put') return call('PUT', path, { steps: change.steps })
      if (change.do === 'forget') return call('DELETE', path)
      return call('POST', `${path}/recordings`, change.recording)
    },
    onSuccess: (steps) => client.setQueryData(stepsKey(site), steps),
  })
}
