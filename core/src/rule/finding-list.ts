import { LINT_KINDS, type LintFinding, type LintKind, type WayOut } from './lint-finding.js'
import type { Group } from './page-breeds.js'
import type { RulePage } from './rule.js'

const MOST_PAGES = 20

/** Pages by their numbers, or whole groups of them. */
export type Parts = Iterable<Group | number>

/** What was found, each thing once with all the pages that it shows on. */
export class FindingList {
  private readonly findings = new Map<string, { finding: LintFinding; seen: PageMarks }>()

  constructor(private readonly pages: readonly RulePage[]) {}

  add(kind: LintKind, rules: string[], parts: Parts, wayOut: WayOut, about?: string): void {
    const key = JSON.stringify([kind, rules, about ?? ''])
    let entry = this.findings.get(key)
    if (!entry) {
      const finding = { kind, rules, pages: [], pageCount: 0, ...(about !== undefined && { about }), wayOut }
      entry = { finding, seen: new PageMarks() }
      this.findings.set(key, entry)
    }
    const { finding, seen } = entry
    const take = (page: number) => {
      if (!seen.mark(page)) return
      finding.pageCount++
      if (finding.pages.length < MOST_PAGES) finding.pages.push(this.pages[page]!.path)
    }
    for (const part of parts) {
      if (typeof part === 'number') take(part)
      else for (const page of part.pages) take(page)
    }
    if (finding.wayOut.do === 'keep') finding.wayOut.pages = finding.pages
  }

  /** The worst first. */
  inOrder(): LintFinding[] {
    const order = (kind: LintKind) => LINT_KINDS.indexOf(kind)
    return [...this.findings.values()]
      .map(({ finding }) => finding)
      .sort((a, b) => order(a.kind) - order(b.kind) || b.pageCount - a.pageCount)
  }
}

const PAGES_A_BLOCK = 4_096

/** One bit a page, in blocks that are made when a page of theirs is marked: most findings are of a few pages. */
class PageMarks {
  private readonly blocks: (Uint8Array | undefined)[] = []

  /** False where the page was marked before. */
  mark(page: number): boolean {
    const at = page % PAGES_A_BLOCK
    const block = (this.blocks[Math.floor(page / PAGES_A_BLOCK)] ??= new Uint8Array(PAGES_A_BLOCK / 8))
    const bit = 1 << (at & 7)
    if ((block[at >> 3]! & bit) !== 0) return false
    block[at >> 3]! |= bit
    return true
  }
}
