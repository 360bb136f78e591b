import { seeded } from '@unvelt/core'

const PARTS = [
  'locale',
  'range',
  'frame',
  'panel',
  'cursor',
  'layer',
  'token',
  'option',
  'field',
  'anchor',
  'motion',
  'grid',
]
const VERBS = ['format', 'measure', 'resolve', 'merge', 'clamp', 'parse', 'render', 'attach', 'compare', 'restore']
const WORDS = 'leaf bark root seed grove ridge hollow fern moss elder alder rowan hazel aspen larch spruce'.split(' ')

/**
 * Working script of about the given size that defines much and runs little, as add-ons with many features ship it.
 * The same name always gives the same code.
 */
export function bulkScript(name: string, bytes: number): string {
  const random = seeded(nameSeed(name))
  const pick = <T>(list: readonly T[]) => list[Math.floor(random() * list.length)]!
  const parts: string[] = [`/* ${name}: features */\n(function (api) {\n  'use strict';\n`]
  let size = parts[0]!.length
  for (let n = 0; size < bytes - 120; n++) {
    const call = `${pick(VERBS)}${capital(pick(PARTS))}${n}`
    const table = Array.from(
      { length: 3 + Math.floor(random() * 5) },
      () => `${pick(WORDS)}${n}: ${Math.floor(random() * 9999)}`,
    )
    const part =
      `  var ${call}Defaults = { ${table.join(', ')} };\n` +
      `  api.${call} = function (target, options) {\n` +
      `    var settings = Object.assign({}, ${call}Defaults, options), total = ${Math.floor(random() * 97)};\n` +
      `    for (var key in settings) { if (typeof settings[key] === 'number') total = (total * 31 + settings[key]) % ${1000 + Math.floor(random() * 90000)}; }\n` +
      `    if (target && target.dataset) { target.dataset.${pick(PARTS)} = '${pick(WORDS)}-' + total; }\n` +
      `    return total ${pick(['+', '-', '*', '%'])} ${1 + Math.floor(random() * 40)};\n  };\n`
    parts.push(part)
    size += part.length
  }
  parts.push(`})(window.${identifier(name)} = window.${identifier(name)} || {});\n`)
  return parts.join('')
}

/** Style rules of about the given size, for classes that hardly any page has. */
export function bulkStyle(name: string, bytes: number): string {
  const random = seeded(nameSeed(name))
  const pick = <T>(list: readonly T[]) => list[Math.floor(random() * list.length)]!
  const parts: string[] = []
  let size = 0
  for (let n = 0; size < bytes - 90; n++) {
    const rule = `.${name}-${pick(WORDS)}-${n}{padding:${Math.floor(random() * 40)}px ${Math.floor(random() * 40)}px;border-radius:${Math.floor(random() * 12)}px;color:#${Math.floor(
      random() * 0xffffff,
    )
      .toString(16)
      .padStart(6, '0')}}\n`
    parts.push(rule)
    size += rule.length
  }
  return parts.join('')
}

const capital = (word: string) => word[0]!.toUpperCase() + word.slice(1)
const identifier = (name: string) => name.replace(/[^a-z0-9]+/gi, '_')
const nameSeed = (name: string) => [...name].reduce((seed, c) => (Math.imul(seed, 31) + c.charCodeAt(0)) | 0, 7)
