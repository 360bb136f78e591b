/** Names that scripts may set: classes and ids, also such as they are put together of. */
export class ScriptWords {
  private readonly words = new Set<string>()
  /** Beginnings that something is put behind (`'col-' + n`), of one part or two (`'col-' + size + '-' + n`). */
  private readonly beginnings = new Set<string>()

  /** Takes down every word of a script's text, whatever it is there for: not sure means that it stays. */
  take(text: string): void {
    for (const [word] of text.matchAll(/[\p{L}_][\p{L}\p{N}_-]*/gu)) {
      this.words.add(word)
      if (word.length > LEAST_BEGINNING && /[-_]$/.test(word)) this.beginnings.add(word)
    }
  }

  has(name: string): boolean {
    if (this.words.has(name)) return true
    for (let n = LEAST_BEGINNING + 1; n < name.length; n++)
      if (
        /[-_]/.test(name[n - 1]!) &&
        this.beginnings.has(name.slice(0, n)) &&
        name.slice(n).split(/[-_]+/).length <= MOST_PUT_BEHIND
      )
        return true
    return false
  }
}

const LEAST_BEGINNING = 2
const MOST_PUT_BEHIND = 2
