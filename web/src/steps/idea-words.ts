import type { SiteStep, StepIdea, StepIdeas } from '@unvelt/contract'
import { count, plural } from '../figures/format.js'

export const atDevice = ({ device }: Pick<StepIdea, 'device'>) => (device === 'desk' ? 'at a desk' : 'on a handset')

/** Which pages suggest a step. */
export const kindWords = ({ kinds }: StepIdea): string =>
  kinds.length === 1 ? `on ${kinds[0]}` : `on ${count(kinds.length)} kinds`

/** What came of trying it. */
export const ideaWords = (idea: StepIdea): string =>
  idea.works === null ? 'sends something, so not tried' : `works on ${idea.path}, ${atDevice(idea)}`

export function stateWords(
  { state, pages, looked, takenAt }: StepIdeas,
  offered: number,
  when: (iso: string) => string,
): string {
  if (state === 'waiting') return `${count(looked)} of ${plural(pages, 'view')} looked at.`
  if (looked < pages && offered === 0)
    return `Stopped behind ${count(looked)} of ${plural(pages, 'view')}, ${when(takenAt)}.`
  if (looked < pages)
    return `${plural(offered, 'step')} on ${count(looked)} of ${plural(pages, 'view')}, ${when(takenAt)}.`
  return offered === 0
    ? `Nothing that is not there already, ${when(takenAt)}.`
    : `${plural(offered, 'step')}, ${when(takenAt)}.`
}

/** What was found and is not offered. */
export function leftOutWords(failed: number, unread: number): string {
  const parts = [
    ...(failed > 0 ? [`${plural(failed, 'step')} did not go through twice`] : []),
    ...(unread > 0 ? [`${plural(unread, 'view')} could not be read`] : []),
  ]
  return parts.join(', ')
}

/** The steps of ideas, each called like no other one. */
export function withOwnNames(ideas: readonly StepIdea[], list: readonly SiteStep[]): SiteStep[] {
  const taken = new Set(list.map(({ name }) => name))
  return ideas.map(({ step }) => {
    let name = step.name
    for (let n = 2; taken.has(name); n++) name = `${step.name.slice(0, 56)} ${n}`
    taken.add(name)
    return { ...step, name }
  })
}
