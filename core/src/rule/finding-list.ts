import { LINT_KINDS, type LintFinding, type LintKind, type WayOut } from './lint-finding.js'
import type { Group } from './page-breeds.js'

const MOST_PAGES = 20

/** Pages one by one, or whole groups of them: always the same way for one finding. */
export type Parts = Iterable<Group | string>

/** What was found, each thing once with all the pages that it shows on. */
export class FindingList {
  private readonly findings = new Map<string, LintFinding>()
  private readonly counted = new Map<string, Set<Group | string>>()

  /** @param isOnce Each page is looked at once, so that none can be told twice. */
  constructor(private readonly isOnce: boolean) {}

  add(kind: LintKind, rules: string[], parts: Parts, wayOut: WayOut, about?: string): void {
    const key = JSON.stringify([kind, rules, about ?? ''])
    const finding: LintFinding = this.findings.get(key) ?? {
      kind,
      rules,
      pages: [],
      pageCount: 0,
      ...(about !== undefined && { about }),
      wayOut,
    }
    this.findings.set(key, finding)
    const { isOnce } = this
    const seen = this.counted.get(key) ?? new Set<Group | string>()
    if (!isOnce) this.counted.set(key, seen)
    for (const part of parts) {
      if (!isOnce) {
        if (seen.has(part)) continue
        seen.add(part)
      }
      const paths = typeof part === 'string' ? [part] : part.paths
      finding.pageCount += paths.length
      if (finding.pages.length < MOST_PAGES) finding.pages.push(...paths.slice(0, MOST_PAGES - finding.pages.length))
    }
    if (finding.wayOut.do === 'keep') finding.wayOut.pages = finding.pages
  }

  /** The worst first. */
  inOrder(): LintFinding[] {
    const order = (kind: LintKind) => LINT_KINDS.indexOf(kind)
    return [...this.findings.values()].sort((a, b) => order(a.kind) - order(b.kind) || b.pageCount - a.pageCount)
  }
}
