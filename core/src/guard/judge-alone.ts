import { GIVEN_UP, type GuardLook } from './guard-look.js'
import type { GuardName, GuardResult } from './guards.js'
import { gone } from './steady.js'
import { GUARDS } from './guards.js'

const MOST_TOLD = 50

/**
 * What is wrong with a page by itself, with nothing to hold it against: an answer of 400 and more, what the console complains of, requests
 * that come to nothing unless the page gave them up, and steps that can't be done; each only where it was so in every look. What needs another page
 * beside it (layout, picture, links …) is `unknown`.
 * @param looks At the same page under the same lens; none gives no result.
 */
export function judgeAlone(looks: readonly GuardLook[]): GuardResult[] {
  if (looks.length === 0) return []
  const always = (of: (look: GuardLook) => readonly string[]) => gone(looks.map(of), [[]]).slice(0, MOST_TOLD)
  const wrong: Partial<Record<GuardName, GuardResult>> = {
    answer: told('answer', { came: always(badAnswer) }),
    errors: told('errors', { came: always((look) => look.errors) }),
    requests: told('requests', {
      came: always(({ failed }) => failed.filter((entry) => !entry.endsWith(`: ${GIVEN_UP}`))),
    }),
    ...(looks.some(({ steps }) => steps.length > 0) && { steps: told('steps', { gone: always(undone) }) }),
  }
  return GUARDS.map((guard) => wrong[guard] ?? { guard, outcome: 'unknown', gone: [], came: [] })
}

function told(guard: GuardName, { gone = [], came = [] }: { gone?: string[]; came?: string[] }): GuardResult {
  return { guard, outcome: gone.length + came.length > 0 ? 'fails' : 'holds', gone, came }
}

const badAnswer = ({ status }: GuardLook) => (status !== null && status < 400 ? [] : [`status ${status ?? 'none'}`])

const undone = ({ steps }: GuardLook) =>
  steps.flatMap(({ name, outcome, why }) =>
    outcome === 'failed' ? [why === undefined ? name : `${name}: ${why}`] : [],
  )
