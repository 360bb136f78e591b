import type { Effect, ResolvedEffect } from '@unvelt/core'

/** Effects of whole add-ons of which sums over groups tell all; a hint spares nothing, and what a setting does a rehearsal tells. */
const TOLD_BY_SUMS: ReadonlySet<Effect> = new Set(['skip', 'leave-out', 'system-font', 'keep', 'hint', 'set'])

/** Those of which sums over groups don't tell what they spare, or postpone. A file that is only asked for sooner weighs what it did. */
export const apartFrom = <T extends Pick<ResolvedEffect, 'effect' | 'file'>>(effects: readonly T[]): T[] =>
  effects.filter(({ effect, file }) => !TOLD_BY_SUMS.has(effect) || (file !== undefined && effect !== 'hint'))

/** Everything about an effect but which rules it comes from. */
export const said = ({ rules: _, conflictsWith: __, ...effect }: ResolvedEffect): string => JSON.stringify(effect)
