import type { GuardView } from '@unvelt/contract'

type Guard = GuardView['guard']

/** What each guard looks at: the head of its column, and as a sentence. */
export const GUARD_WORDS: Record<Guard, { name: string; looks: string }> = {
  answer: { name: 'Answer', looks: 'the page answers with the same status, title and address' },
  errors: { name: 'Errors', looks: 'no script complains that did not before' },
  requests: { name: 'Requests', looks: 'nothing that is asked for comes to nothing' },
  layout: { name: 'Layout', looks: 'the large parts keep their place and size' },
  shift: { name: 'Shift', looks: 'nothing jumps more than before' },
  picture: { name: 'Picture', looks: 'it looks the same, what moves by itself aside' },
  links: { name: 'Links', looks: 'all links are still there' },
  fields: { name: 'Fields', looks: 'all form fields are still there' },
  controls: { name: 'Controls', looks: 'everything to press has the name it had' },
  steps: { name: 'Steps', looks: 'what a visitor does still works' },
}

export const OUTCOME_WORDS: Record<GuardView['outcome'], string> = {
  holds: 'holds',
  fails: 'fails',
  aside: 'steps aside: the page is never twice the same',
  unknown: 'nothing to look at',
}

/** A guard's outcome where it is read out. */
export const outcomeWords = ({ outcome, accepted }: GuardView): string =>
  accepted ? 'accepted' : OUTCOME_WORDS[outcome]
