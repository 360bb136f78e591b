import { actionsKey, type SiteStep, type StepIdea } from '@unvelt/contract'
import { dateTime } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'
import { atDevice, ideaWords, kindWords, leftOutWords, stateWords, withOwnNames } from './idea-words.js'
import { useLookForStepIdeas, useStepIdeas } from './queries.js'
import { actionWords } from './step-words.js'

interface StepIdeasPartProps {
  siteId: number
  list: readonly SiteStep[]
  isBusy: boolean
  onAdd(steps: SiteStep[]): void
}

/** Steps that the pages suggest by what they have, tried before they are offered. */
export function StepIdeasPart({ siteId, list, isBusy, onAdd }: StepIdeasPartProps) {
  const { data } = useStepIdeas(siteId)
  const start = useLookForStepIdeas(siteId)
  const newest = data?.[0]
  const isLooking = newest?.state === 'waiting'
  const known = new Set(list.map(({ actions }) => actionsKey(actions)))
  const open = (newest?.ideas ?? []).filter(({ step }) => !known.has(actionsKey(step.actions)))
  const offered = open.filter(({ works }) => works !== false)
  const failed = open.filter(({ works }) => works === false)
  const add = (ideas: StepIdea[]) => onAdd(withOwnNames(ideas, list))
  const working = offered.filter(({ works }) => works)
  return (
    <div className="mt-4" role="group" aria-label="Suggested steps">
      <div className="flex items-baseline gap-4 max-md:flex-wrap max-md:gap-y-0">
        <h3 className="font-semibold">Suggested by the pages</h3>
        <p role="status" className="min-w-0 flex-1 text-soft max-md:basis-full">
          {newest
            ? stateWords(newest, offered.length, dateTime)
            : 'What opens, searches, sends or is come for on them.'}
        </p>
        {working.length > 1 && (
          <Button weight="quiet" disabled={isBusy} onClick={() => add(working)}>
            Add all {working.length} that work
          </Button>
        )}
        <Button
          weight="quiet"
          disabled={start.isPending}
          onClick={() => start.mutate(!isLooking, { onError: (error) => toast.error(error.message) })}
        >
          {isLooking ? 'Stop looking' : newest ? 'Look again' : 'Look at the pages'}
        </Button>
      </div>
      {newest?.failure && <p className="text-plum">{newest.failure}</p>}
      {offered.length > 0 && (
        <ol className="mt-1 border-t border-line">
          {offered.map((idea) => (
            <li
              key={actionsKey(idea.step.actions)}
              className="flex items-baseline gap-4 border-b border-line/60 py-1 max-md:flex-wrap max-md:gap-y-0"
            >
              <span className="w-44 shrink-0">{idea.step.name}</span>
              <span className="w-32 shrink-0 text-soft" title={idea.kinds.join(', ')}>
                {kindWords(idea)}
              </span>
              <ol className="min-w-0 flex-1 text-[13px] max-md:basis-full">
                {idea.step.actions.map((action, n) => (
                  <li key={n} className="truncate" title={actionWords(action)}>
                    {actionWords(action)}
                  </li>
                ))}
              </ol>
              <span
                className="w-60 shrink-0 truncate text-[13px] text-soft"
                title={idea.works ? `It was played twice: ${ideaWords(idea)}` : ideaWords(idea)}
              >
                {ideaWords(idea)}
              </span>
              <Button weight="quiet" aria-label={`Add ${idea.step.name}`} disabled={isBusy} onClick={() => add([idea])}>
                Add
              </Button>
            </li>
          ))}
        </ol>
      )}
      {(failed.length > 0 || (newest?.failed.length ?? 0) > 0) && (
        <details className="mt-1 text-[13px] text-soft">
          <summary>{leftOutWords(failed.length, newest!.failed.length)}</summary>
          <ul className="mt-1 ml-4 grid gap-0.5">
            {failed.map((idea) => (
              <li key={actionsKey(idea.step.actions)}>
                {idea.step.name}, on {idea.path} {atDevice(idea)}: {idea.why ?? 'it did not go through both times'}
              </li>
            ))}
            {newest!.failed.map(({ path, why }) => (
              <li key={path}>
                {path}: {why}
              </li>
            ))}
          </ul>
        </details>
      )}
    </div>
  )
}
