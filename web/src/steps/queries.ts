import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { SiteStep, SiteSteps, StepIdeas, StepRecording, StepTrial, StepTrialRequest } from '@unvelt/contract'
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

const trialsKey = (site: number) => [...keys.site(site), 'step-trials']
const LOOK_AGAIN_MS = 700

export function useTrySteps(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (wish: StepTrialRequest) => call<StepTrial>('POST', `/sites/${site}/step-trials`, wish),
    onSuccess: (trial) => client.setQueryData<StepTrial[]>(trialsKey(site), (old = []) => [trial, ...old]),
  })
}

/** One trial, followed to its end; undefined before there is one. */
export function useStepTrial(site: number, id: number | null): StepTrial | undefined {
  const { data } = useQuery({
    queryKey: trialsKey(site),
    queryFn: () => call<StepTrial[]>('GET', `/sites/${site}/step-trials`),
    enabled: id !== null,
    refetchInterval: ({ state }) =>
      state.data?.some((trial) => trial.id === id && trial.state === 'waiting') ? LOOK_AGAIN_MS : false,
  })
  return data?.find((trial) => trial.id === id)
}

const ideasKey = (site: number) => [...keys.site(site), 'step-ideas']

/** What the pages suggest, followed while they are looked at. */
export const useStepIdeas = (site: number) =>
  useQuery({
    queryKey: ideasKey(site),
    queryFn: () => call<StepIdeas[]>('GET', `/sites/${site}/step-ideas`),
    refetchInterval: ({ state }) => (state.data?.[0]?.state === 'waiting' ? LOOK_AGAIN_MS : false),
  })

/** Begins to look at the pages, or stops it. */
export function useLookForStepIdeas(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (look: boolean) => call<StepIdeas>('POST', `/sites/${site}/step-ideas${look ? '' : '/stop'}`),
    onSuccess: (ideas) => client.setQueryData<StepIdeas[]>(ideasKey(site), [ideas]),
  })
}
