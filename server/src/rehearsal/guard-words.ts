import type { GuardName, GuardResult } from '@unvelt/core'

/** What a guard looks at, as it stands in the middle of a sentence. */
export const GUARD_SUBJECTS: Record<GuardName, string> = {
  answer: 'the page’s answer',
  errors: 'errors in the console',
  requests: 'failed requests',
  layout: 'the layout',
  shift: 'layout shift',
  picture: 'the picture',
  links: 'links',
  fields: 'form fields',
  controls: 'controls',
  steps: 'steps',
}

/** What fails, in a few words. */
export function whatFails({ guard, gone, came }: Pick<GuardResult, 'guard' | 'gone' | 'came'>): string {
  const what = gone[0] ?? came[0]
  return `${GUARD_SUBJECTS[guard]}${what === undefined ? '' : `: ${what}`}`
}
