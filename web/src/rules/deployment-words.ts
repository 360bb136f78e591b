import type { Deployment, DeploymentState } from '@unvelt/contract'
import { plural } from '../figures/format.js'

interface Stage {
  state: DeploymentState
  name: string
}

const STAGES: Stage[] = [
  { state: 'sending', name: 'send' },
  { state: 'sent', name: 'purge and warm' },
  { state: 'purged', name: 'check as visitors' },
  { state: 'checked', name: 'note down' },
]

/** How far a change is, in the order it goes. */
export const stagesOf = ({ net, parts }: Deployment): Stage[] =>
  net === 'off' && parts?.at !== 'first' ? STAGES : [...STAGES, { state: 'live', name: 'play its guards' }]

/** How many of the stages are behind it. */
export function stagesDone(deployment: Deployment): number {
  const stages = stagesOf(deployment)
  if (deployment.state === 'begun') return 0
  const at = stages.findIndex(({ state }) => state === deployment.state)
  return at < 0 ? stages.length : at
}

/** What is being done, as the beginning of a line. */
export function doingWords({ state, kind, parts }: Deployment): string {
  if (state === 'going-back') return 'Going back'
  if (parts?.at === 'first')
    return state === 'live' ? `Live on ${plural(parts.firstPages, 'page')} so far` : 'Putting the first part live'
  if (state === 'live') return 'Live, and looked after'
  if (parts) return 'Putting the rest live'
  return { drafts: 'Putting live', 'take-back': 'Taking back', restore: 'Putting back', adopt: 'Adopting' }[kind]
}

/** How it ended, in a word or two. */
export function endWords({ state, toVersion, finishedAt }: Deployment): string {
  if (finishedAt === null) return 'under way'
  switch (state) {
    case 'live':
      return `live as version ${toVersion}`
    case 'taken-back':
      return 'taken back by itself'
    case 'failed':
      return 'came to nothing'
    default:
      return 'under way'
  }
}
