import type { ServerTimingEntry } from '../reading/reading.js'

const TOKEN = /^[!#$%&'*+.^_`|~0-9A-Za-z-]+$/

/**
 * Reads a `Server-Timing` header (W3C Server Timing, section 3.2). Malformed parts are passed over, as the standard asks; of
 * parameters that come twice the first one counts. Durations are milliseconds.
 */
export function parseServerTiming(header: string): ServerTimingEntry[] {
  const entries: ServerTimingEntry[] = []
  const scan = new Scanner(header)
  while (!scan.isOver()) {
    const name = scan.upTo(';,').trim()
    const entry: ServerTimingEntry = { name, duration: null, description: '' }
    const seen = new Set<string>()
    while (scan.take(';')) {
      const key = scan.upTo('=;,').trim().toLowerCase()
      const value = scan.take('=') ? scan.value() : ''
      if (seen.has(key)) continue
      seen.add(key)
      if (key === 'dur') entry.duration = Math.max(0, leadingNumber(value))
      else if (key === 'desc') entry.description = value
    }
    if (TOKEN.test(name)) entries.push(entry)
    scan.take(',')
  }
  return entries
}

/** The number that a text begins with, 0 where it begins with none (HTML, rules for parsing floating-point number values). */
function leadingNumber(text: string): number {
  const number = Number(/^\s*([+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?)/i.exec(text)?.[1] ?? 0)
  return Number.isFinite(number) ? number : 0
}

/** Goes through a header once. */
class Scanner {
  private at = 0

  constructor(private readonly text: string) {}

  isOver(): boolean {
    return this.at >= this.text.length
  }

  take(letter: string): boolean {
    if (this.text[this.at] !== letter) return false
    this.at++
    return true
  }

  upTo(letters: string): string {
    const from = this.at
    while (this.at < this.text.length && !letters.includes(this.text[this.at]!)) this.at++
    return this.text.slice(from, this.at)
  }

  /** A token or a quoted string; what follows it up to the next separator is passed over. */
  value(): string {
    while (this.text[this.at] === ' ' || this.text[this.at] === '\t') this.at++
    if (!this.take('"')) return this.upTo(';,').trim()
    let value = ''
    for (; this.at < this.text.length && this.text[this.at] !== '"'; this.at++) {
      if (this.text[this.at] === '\\') this.at++
      value += this.text[this.at] ?? ''
    }
    this.upTo(';,')
    return value
  }
}
