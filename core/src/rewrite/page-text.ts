import { decodeHTMLAttribute } from 'entities'

const BEYOND_ASCII = /[^\0-\x7f]/
const BEYOND_LATIN = /[^\0-\xff]/

/** Latin-1 text as the UTF-8 it stands for; where it is none, or no bytes at all, as it is. */
export function fromUtf8(latin1: string): string {
  if (!BEYOND_ASCII.test(latin1) || BEYOND_LATIN.test(latin1)) return latin1
  try {
    return new TextDecoder('utf-8', { fatal: true, ignoreBOM: true }).decode(
      Uint8Array.from(latin1, (c) => c.charCodeAt(0)),
    )
  } catch {
    return latin1
  }
}

/** Text as the bytes of its UTF-8, one character each. */
export function toUtf8(text: string): string {
  if (!BEYOND_ASCII.test(text)) return text
  return Array.from(new TextEncoder().encode(text), (byte) => String.fromCharCode(byte)).join('')
}

const MOST_KNOWN = 2_000
const LONGEST_KNOWN = 300
const known = new Map<string, string>()

/** An attribute's value as a browser has it: character references stand for characters, not for bytes. */
export function attributeText(raw: string): string {
  if (!raw.includes('&') && !BEYOND_ASCII.test(raw)) return raw
  // The same few are looked at again and again, and looking them up is dear.
  const found = known.get(raw)
  if (found !== undefined) return found
  const utf8 = fromUtf8(raw)
  const text = utf8.includes('&') ? decodeHTMLAttribute(utf8) : utf8
  if (raw.length > LONGEST_KNOWN) return text
  if (known.size >= MOST_KNOWN) known.clear()
  known.set(raw, text)
  return text
}

/**
 * The text of a script or style element as a browser has it: line ends as the input stream's preprocessing leaves them and
 * no NUL (HTML standard, sections 13.2.3.5 and 13.2.5.4).
 */
export const codeText = (latin1: string): string => fromUtf8(latin1).replace(/\r\n?/g, '\n').replaceAll('\0', '\ufffd')

/**
 * An attribute's value with what stands for characters of ASCII decoded and all bytes kept, for changing a part of it. Null
 * where it refers to other characters: which bytes these are depends on the page.
 */
export function editableValue(raw: string): string | null {
  if (!raw.includes('&')) return raw
  // Bytes beyond ASCII are put aside, so that only what was referred to can be beyond it.
  const text = decodeHTMLAttribute(
    raw.replace(/[\u0080-\u00ff]/g, (c) => String.fromCharCode(0xe000 + c.charCodeAt(0))),
  )
  if (/[^\0-\x7f\ue080-\ue0ff]/.test(text)) return null
  return text.replace(/[\ue080-\ue0ff]/g, (c) => String.fromCharCode(c.charCodeAt(0) - 0xe000))
}
