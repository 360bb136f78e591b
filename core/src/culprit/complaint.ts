import type { GuardLook } from '../guard/guard-look.js'
import { about } from './same-failure.js'

export const COMPLAINT_KINDS = ['errors', 'requests'] as const

/** Something that a page complains of: a line of its console, or a request that came to nothing. */
export interface Complaint {
  kind: (typeof COMPLAINT_KINDS)[number]
  text: string
}

type Complaining = Pick<GuardLook, 'errors' | 'failed'>

/** All that a page complains of, each thing once. */
export function complaintsOf({ errors, failed }: Complaining): Complaint[] {
  const all: Complaint[] = [
    ...errors.map((text) => ({ kind: 'errors' as const, text })),
    ...failed.map((text) => ({ kind: 'requests' as const, text })),
  ]
  return all.filter((one, n) => all.findIndex((other) => isSameComplaint(one, other)) === n)
}

/** Whether two complaints are about the same, whatever numbers they name: ports, places in files and sizes differ. */
export const isSameComplaint = (a: Complaint, b: Complaint): boolean =>
  a.kind === b.kind && about(a.text) === about(b.text)

/** Whether a page complains of something. */
export const complainsOf = (look: Complaining, complaint: Complaint): boolean =>
  complaintsOf(look).some((one) => isSameComplaint(one, complaint))
