import type { ServerTimingEntry } from '../reading/reading.js'

/**
 * Reads a `Server-Timing` header (W3C Server Timing, section 3). Malformed parts are passed over, as the standard asks.
 * Durations are milliseconds.
 */
export function parseServerTiming(header: string): ServerTimingEntry[] {
  const entries: ServerTimingEntry[] = []
  for (const metric of splitOutsideQuotes(header, ',')) {
    const [name = '', ...parameters] = splitOutsideQuotes(metric, ';').map((part) => part.trim())
    if (!/^[!#$%&'*+.^_`|~0-9A-Za-z-]+$/.test(name)) continue
    const entry: ServerTimingEntry = { name, duration: null, description: '' }
    for (const parameter of parameters) {
      const [, key = '', quoted, plain] = /^([^=\s]+)\s*=\s*(?:"((?:[^"\\]|\\.)*)"|([^\s"]*))/.exec(parameter) ?? []
      const value = quoted === undefined ? (plain ?? '') : quoted.replace(/\\(.)/g, '$1')
      if (key.toLowerCase() === 'dur' && entry.duration === null && value !== '' && Number.isFinite(Number(value)))
        entry.duration = Math.max(0, Number(value))
      if (key.toLowerCase() === 'desc' && entry.description === '') entry.description = value
    }
    entries.push(entry)
  }
  return entries
}

function splitOutsideQuotes(text: string, separator: string): string[] {
  const parts: string[] = []
  let quoted = false
  let start = 0
  for (let i = 0; i < text.length; i++) {
    if (quoted && text[i] === '\\') i++
    else if (text[i] === '"') quoted = !quoted
    else if (!quoted && text[i] === separator) {
      parts.push(text.slice(start, i))
      start = i + 1
    }
  }
  parts.push(text.slice(start))
  return parts
}
