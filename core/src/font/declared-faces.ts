import { parse, walk, type CssNode } from 'css-tree'
import type { DeclaredFace } from './stand-in.js'

/** A face with its files. */
export interface FaceWithFiles extends DeclaredFace {
  /** Addresses in the order in which a browser tries them, as they stand. */
  sources: string[]
  /** Whether the letters of Latin are among its signs, by its `unicode-range`. */
  hasLatin: boolean
}

const MOST_FACES = 400
const LATIN_A = 0x61

/** The faces that a stylesheet declares (CSS Fonts 4, section 4). */
export function declaredFaces(css: string): FaceWithFiles[] {
  const faces: FaceWithFiles[] = []
  walk(parse(css, { parseValue: true, onParseError: () => {} }), {
    visit: 'Atrule',
    enter(node) {
      if (node.name.toLowerCase() !== 'font-face' || !node.block || faces.length >= MOST_FACES) return
      const said = new Map<string, CssNode>()
      node.block.children.forEach((part) => {
        if (part.type === 'Declaration') said.set(part.property.toLowerCase(), part.value)
      })
      const family = textOf(said.get('font-family')).slice(0, 100)
      if (family === '') return
      faces.push({
        family,
        weight: weightOf(textOf(said.get('font-weight'))),
        style: /^(italic|oblique)/i.test(textOf(said.get('font-style'))) ? 'italic' : 'normal',
        sources: addressesIn(said.get('src')),
        hasLatin: hasLatin(said.get('unicode-range')),
      })
    },
  })
  return faces
}

/** The words of a value, strings without their quotes. */
function textOf(value: CssNode | undefined): string {
  if (!value) return ''
  const words: string[] = []
  walk(value, (node) => {
    if (node.type === 'Identifier') words.push(node.name)
    else if (node.type === 'String' || node.type === 'Number') words.push(node.value)
    else if (node.type === 'Raw') words.push(node.value)
  })
  return words.join(' ').trim()
}

function weightOf(said: string): string {
  const words = said.toLowerCase().replace('normal', '400').replace('bold', '700').split(/\s+/)
  const weights = words.filter((word) => /^[1-9]\d{0,2}(\.\d+)?$|^1000$/.test(word)).map((word) => String(Math.round(Number(word)))) // prettier-ignore
  return weights.slice(0, 2).join(' ') || '400'
}

function addressesIn(value: CssNode | undefined): string[] {
  const found: string[] = []
  if (value)
    walk(value, (node) => {
      if (node.type === 'Url') found.push(node.value)
    })
  return found
}

function hasLatin(value: CssNode | undefined): boolean {
  if (!value) return true
  const ranges: string[] = []
  walk(value, (node) => {
    if (node.type === 'UnicodeRange') ranges.push(node.value)
    else if (node.type === 'Raw') ranges.push(...node.value.split(','))
  })
  return ranges.some((range) => {
    const [, from, to] = /^\s*u\+([0-9a-f?]{1,6})(?:-([0-9a-f]{1,6}))?\s*$/i.exec(range) ?? []
    if (from === undefined) return false
    const least = parseInt(from.replace(/\?/g, '0'), 16)
    const most = parseInt(to ?? from.replace(/\?/g, 'f'), 16)
    return least <= LATIN_A && LATIN_A <= most
  })
}
