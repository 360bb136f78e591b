import type { Site } from '@unvelt/contract'
import { useUnderWay } from '../api/deployments.js'
import { doingWords, stagesDone, stagesOf } from './deployment-words.js'
import { NetProgress } from './net-progress.js'

/** A change of the live rules that is under way: what it is, how far it has come, and what was said last. */
export function DeploymentBar({ site }: { site: Site }) {
  const deployment = useUnderWay(site.id)
  if (!deployment) return null
  const done = stagesDone(deployment)
  const stages = stagesOf(deployment)
  const last = deployment.steps.at(-1)?.said ?? 'Asking the site for its rules.'
  const goesBack = deployment.state === 'going-back'
  return (
    <section aria-label="Change under way" className="border-t-2 border-verdigris bg-sheet px-4 py-2">
      <p className="flex items-baseline gap-4">
        <b className="font-semibold whitespace-nowrap">
          {doingWords(deployment)} · {deployment.what}
        </b>
        <span aria-live="polite" className="min-w-0 flex-1 truncate text-soft">
          {last}
        </span>
        {deployment.state === 'live' && deployment.netId !== null && (
          <NetProgress siteId={site.id} netId={deployment.netId} isFirst={deployment.parts?.at === 'first'} />
        )}
      </p>
      <ol className="mt-1.5 grid auto-cols-fr grid-flow-col gap-1 text-[12.5px]">
        {stages.map(({ state, name }, at) => {
          const is = goesBack ? 'waits' : at < done ? 'done' : at === done ? 'now' : 'waits'
          return (
            <li key={state} aria-current={is === 'now' ? 'step' : undefined}>
              <span
                className={`block h-[3px] ${is === 'done' ? 'bg-verdigris' : is === 'now' ? 'bg-verdigris/45' : 'bg-line'}`}
              />
              <span className={is === 'waits' ? 'text-soft' : undefined}>
                {name}
                {is === 'done' && ' ✓'}
              </span>
            </li>
          )
        })}
      </ol>
    </section>
  )
}
