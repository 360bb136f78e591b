import type { Deployment, DeploymentState } from '@unvelt/contract'

/** How far a change is, in the order it goes. */
export const STAGES: { state: DeploymentState; name: string }[] = [
  { state: 'sending', name: 'send' },
  { state: 'sent', name: 'purge and warm' },
  { state: 'purged', name: 'check as visitors' },
  { state: 'checked', name: 'note down' },
]

/** How many of the stages are behind it. */
export function stagesDone({ state }: Deployment): number {
  if (state === 'begun') return 0
  const at = STAGES.findIndex((stage) => stage.state === state)
  return at < 0 ? STAGES.length : at
}

/** What is being done, as the beginning of a line. */
export function doingWords({ state, kind }: Deployment): string {
  if (state === 'going-back') return 'Going back'
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
