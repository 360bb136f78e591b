/** Names that scripts may set: classes and ids, also such as they are put together of. */
export class ScriptWords {
  /** With where each stands: in one text of which number, or in several. */
  private readonly words = new Map<string, number | 'several'>()
  private readonly texts = new Map<string, number>()
  /** Beginnings that something is put behind (`'col-' + n`), of one part or two (`'col-' + size + '-' + n`). */
  private readonly beginnings = new Set<string>()

  /** Takes down every word of a script's text, whatever it is there for: not sure means that it stays. */
  take(text: string, source: string): void {
    const n = this.texts.get(source) ?? this.texts.size
    this.texts.set(source, n)
    for (const [word] of text.matchAll(/[\p{L}_][\p{L}\p{N}_-]*/gu)) {
      const known = this.words.get(word)
      if (known === undefined) this.words.set(word, n)
      else if (known !== n) this.words.set(word, 'several')
      if (word.length > LEAST_BEGINNING && /[-_]$/.test(word)) this.beginnings.add(word)
    }
  }

  /** Whether a text other than that one names it. */
  hasElsewhere(name: string, source: string): boolean {
    const where = this.words.get(name)
    return where !== undefined && where !== this.texts.get(source)
  }

  /** Whether a name stands in some text, or may be put together there. */
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
