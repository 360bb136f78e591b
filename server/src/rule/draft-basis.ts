import { createHash } from 'node:crypto'
import type { RuleInput } from '@unvelt/contract'
import { ProblemError } from '../problem/problem.error.js'
import type { DraftRow } from './draft.model.js'
import { subject, type DraftRule } from './merge-rules.js'

/** Another one whenever the draft says something else. Of a rule as the database has it, whose keys have an order of its own. */
export const revisionOf = (rule: DraftRule): string =>
  createHash('sha256').update(JSON.stringify(rule)).digest('base64url').slice(0, 16)

/**
 * Two may write on one draft at once: the second is told what has become of it, and nothing of either is lost.
 * @throws ProblemError 409 where a rule was written from a draft that says something else by now, or is gone.
 */
export function refuseOutdated(
  inputs: readonly RuleInput[],
  rules: readonly DraftRule[],
  present: readonly DraftRow[],
): void {
  for (const [n, { basedOn }] of inputs.entries()) {
    if (basedOn === undefined) continue
    const found = present.find((row) =>
      basedOn === null ? row.aside === null && subject(row.rule) === subject(rules[n]!) : row.id === basedOn.id,
    )
    if (basedOn === null ? !found : found && revisionOf(found.rule) === basedOn.revision) continue
    const field = `rules/${n}/basedOn`
    const isThere = found ?? present.find((row) => subject(row.rule) === subject(rules[n]!))
    const message = !isThere
      ? 'Somebody has withdrawn this draft meanwhile.'
      : basedOn === null
        ? 'Somebody has drafted something on the same meanwhile.'
        : 'Somebody has changed this draft meanwhile.'
    throw new ProblemError(409, message, [{ field, message }])
  }
}
