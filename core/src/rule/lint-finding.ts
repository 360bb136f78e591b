import type { RulePage } from './rule.js'

/** What can be wrong with rules that are sound each by itself. */
export const LINT_KINDS = [
  'conflict',
  'hidden',
  'nowhere',
  'needed',
  'unmeant',
  'outdated',
  'expired',
  // A copy of somebody else's file of which nobody said that it may be made.
  'unlicensed',
  'in-use',
  'still-arrives',
  // No rule's: what the site itself has switched off.
  'off-arrives',
] as const
export type LintKind = (typeof LINT_KINDS)[number]

/** What mends a finding: one change, ready to be drafted. */
export type WayOut =
  | { do: 'remove'; rules: string[] }
  /** One of several that say different things has to go. */
  | { do: 'choose'; rules: string[] }
  /** An exception for these pages. */
  | { do: 'keep'; addon: string; pages: string[] }
  /** The rule says that it is meant for one area only. */
  | { do: 'confine'; rule: string; to: 'public' }
  | { do: 'unload-too'; addons: string[] }
  /** Somebody looks at it and says that it still holds. */
  | { do: 'confirm'; rule: string; version: string }
  /** Somebody says why the file may be copied. */
  | { do: 'license'; rule: string }
  /** Why the site doesn't do as it was told is for a check of the connection to find. */
  | { do: 'check'; addon: string }

export interface LintFinding {
  kind: LintKind
  /** The rule that it is about first. */
  rules: string[]
  /** The first pages that it shows on, and how many there are. */
  pages: string[]
  pageCount: number
  /** What else has part in it: an add-on that needs another, the version of one. */
  about?: string
  wayOut: WayOut
}

/** What is known beside the rules; of what is not known nothing is found. */
export interface LintKnown {
  pages: readonly RulePage[]
  /** Add-on → those that it needs. */
  needs?: Record<string, string[]>
  /** Add-on → addresses of its files, as path or address. */
  files?: Record<string, string[]>
  /** Add-on → its version now. */
  versions?: Record<string, string>
  /** Rule → the version of its add-on when it was written; what the rules themselves say without it. */
  writtenFor?: Record<string, string>
  /** The day that it is, `2026-11-29`. */
  today?: string
  /** Path → add-ons that were seen in use there. */
  inUse?: ReadonlyMap<string, ReadonlySet<string>>
  /** Path → add-ons of which something came when the page was read last, with these rules live. */
  arrives?: ReadonlyMap<string, ReadonlySet<string>>
}
