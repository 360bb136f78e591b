const LONGEST = 500
const MOST = 1_000

/** What became of tags of which only attributes change: pages repeat themselves, and hostile ones do nothing else. */
export class EditedTags {
  private readonly edited = new Map<string, string>()

  remember(tag: string, edited: string): void {
    if (tag.length > LONGEST) return
    if (this.edited.size >= MOST) this.edited.clear()
    this.edited.set(tag, edited)
  }

  /** @returns Undefined where no such tag has come. */
  of(text: string, start: number, end: number): string | undefined {
    return end - start > LONGEST || this.edited.size === 0 ? undefined : this.edited.get(text.slice(start, end))
  }

  clear(): void {
    this.edited.clear()
  }
}
