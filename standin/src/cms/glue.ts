import { createHash } from 'node:crypto'
import type { AddOnFile } from './add-on.js'

export interface GluedFile extends AddOnFile {
  /** What it is made of, in order. */
  parts: { path: string; from: number; bytes: number }[]
}

const FOLDER = '/cache/glued/'
const PLAIN_SCRIPTS = /<script src="(\/[^"]+)"><\/script>\n?/g
const PLAIN_STYLES = /<link rel="stylesheet" href="(\/[^"]+)">\n?/g

/**
 * Puts the plain scripts and styles of a page into one file each for head and body. The glued files stand in a cache of
 * their own, which forgets them when it is purged; pages that name them are then without.
 */
export class GluedFiles {
  private readonly files = new Map<string, GluedFile>()

  constructor(private readonly find: (path: string) => AddOnFile | undefined) {}

  get(path: string): GluedFile | undefined {
    return this.files.get(path)
  }

  all(): GluedFile[] {
    return [...this.files.values()]
  }

  purge(): number {
    const { size } = this.files
    this.files.clear()
    return size
  }

  glue(html: string, scripts: boolean, styles: boolean): string {
    const [head, body] = splitOnce(html, '</head>')
    const press = (part: string) => {
      const withStyles = styles
        ? this.into(part, PLAIN_STYLES, 'style', (p) => `<link rel="stylesheet" href="${p}">\n`)
        : part
      return scripts
        ? this.into(withStyles, PLAIN_SCRIPTS, 'script', (p) => `<script src="${p}"></script>\n`)
        : withStyles
    }
    return press(head) + press(body)
  }

  private into(html: string, tag: RegExp, type: 'script' | 'style', made: (path: string) => string): string {
    const found = [...html.matchAll(tag)].flatMap((match) => {
      const file = this.find(match[1]!)
      return file?.type === type ? [{ match, file }] : []
    })
    if (found.length < 2) return html
    const glued = this.store(
      found.map(({ file }) => file),
      type,
    )
    // Scripts run where the last of them stood, styles count where the first did: so order among them is kept.
    const at = type === 'script' ? found.at(-1)!.match : found[0]!.match
    let out = ''
    let from = 0
    for (const { match } of found) {
      out += html.slice(from, match.index) + (match === at ? made(glued.path) : '')
      from = match.index + match[0].length
    }
    return out + html.slice(from)
  }

  private store(files: AddOnFile[], type: 'script' | 'style'): GluedFile {
    const digest = createHash('sha256')
    const parts: GluedFile['parts'] = []
    const pieces: Buffer[] = []
    let from = 0
    for (const { path, body } of files) {
      const piece = Buffer.concat([body, Buffer.from(type === 'script' ? '\n;\n' : '\n')])
      digest.update(path).update(piece)
      parts.push({ path, from, bytes: piece.length })
      pieces.push(piece)
      from += piece.length
    }
    const path = `${FOLDER}${digest.digest('hex').slice(0, 16)}.${type === 'script' ? 'js' : 'css'}`
    const known = this.files.get(path)
    if (known) return known
    const glued: GluedFile = { path, type, body: Buffer.concat(pieces), parts }
    this.files.set(path, glued)
    return glued
  }
}

function splitOnce(text: string, at: string): [string, string] {
  const index = text.indexOf(at)
  return index < 0 ? [text, ''] : [text.slice(0, index), text.slice(index)]
}
