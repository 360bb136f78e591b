import type { AddOnFile } from './add-on.js'

/** Takes the comments out, and shortens a licence comment to one line. Sound by itself. */
export function trimPress(text: string): string {
  return text
    .replace(/\/\*!\s*([^*]*?)\s*\*\//g, '//! $1')
    .replace(/\/\*[^*]*\*+(?:[^/*][^*]*\*+)*\//g, '')
    .replace(/^[ \t]+/gm, '')
}

/**
 * Puts a short script on one line. Sound by itself, since nobody here writes line comments; but behind another tool that
 * makes some, the whole rest of the line is a comment, and the script does nothing.
 */
export function leafPress(text: string): string {
  return text.length > LONGEST_LINE ? text : text.replace(/\n+/g, ' ')
}

const LONGEST_LINE = 60_000

const done = new WeakMap<Buffer, Map<string, Buffer>>()

/** The file as the minifiers that are on would serve it, one behind the other. */
export function minified(file: AddOnFile, trim: boolean, leaf: boolean): Buffer {
  if (file.type !== 'script' || (!trim && !leaf)) return file.body
  const key = `${trim}${leaf}`
  const known = done.get(file.body) ?? new Map<string, Buffer>()
  done.set(file.body, known)
  let body = known.get(key)
  if (!body) {
    let text = file.body.toString('utf8')
    if (trim) text = trimPress(text)
    if (leaf) text = leafPress(text)
    body = Buffer.from(text)
    known.set(key, body)
  }
  return body
}
