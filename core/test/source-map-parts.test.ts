import { addMapping, GenMapping, toEncodedMap } from '@jridgewell/gen-mapping'
import fc from 'fast-check'
import { NO_SOURCES, sharesOfParts, sourceMapParts } from '../src/index.js'

const MAP_URL = 'https://site.test/cache/glued/all.js.map'

/** Glues files as a bundler does: one mapping at the beginning of each line. */
function glued(files: { path: string; body: string }[]) {
  const map = new GenMapping({ file: 'all.js' })
  let line = 1
  for (const { path, body } of files)
    for (const n of body.split('\n').keys()) {
      addMapping(map, {
        generated: { line: line++, column: 0 },
        source: path,
        original: { line: n + 1, column: 0 },
      })
    }
  return { text: files.map(({ body }) => body).join('\n'), json: JSON.stringify(toEncodedMap(map)) }
}

const path = fc.constantFrom('../../add-ons/a/a.js', '/add-ons/b/b.js', '../../add-ons/c/c.js')
const body = fc.array(fc.constantFrom('let x = 1', '', 'ä = "ö𝄞"', 'function f() {}'), { minLength: 1, maxLength: 5 })
const files = fc.array(fc.record({ path, body: body.map((lines) => lines.join('\n')) }), { minLength: 1, maxLength: 6 })

describe('the parts of a glued file by its source map', () => {
  it('are those it was glued from, to the byte', () => {
    fc.assert(
      fc.property(files, (pieces) => {
        const { text, json } = glued(pieces)
        const parts = sourceMapParts(json, text, MAP_URL)
        const whole = Buffer.from(text)
        const expected = new Map<string, string>()
        pieces.forEach(({ path, body }, n) => {
          const url = new URL(path, MAP_URL).href
          expected.set(url, (expected.get(url) ?? '') + body + (n < pieces.length - 1 ? '\n' : ''))
        })
        const found = new Map<string, string>()
        for (const { source, from, bytes } of parts)
          found.set(source!, (found.get(source!) ?? '') + whole.subarray(from, from + bytes).toString())
        expect(found).toEqual(new Map([...expected].filter(([, text]) => text !== '')))
      }),
      { numRuns: 300 },
    )
  })

  it('lie next to each other and cover the file, whatever the map says', () => {
    const segment = fc.oneof(fc.tuple(fc.nat(30)), fc.tuple(fc.nat(30), fc.nat(2), fc.nat(9), fc.nat(9)))
    const mappings = fc.array(
      fc.array(segment, { maxLength: 5 }).map((list) => list.sort((a, b) => a[0]! - b[0]!)),
      { maxLength: 6 },
    )
    fc.assert(
      fc.property(
        mappings,
        fc.string({ unit: fc.constantFrom('a', 'ä', '𝄞', '\n', '\r\n', '\u2028') }),
        (lines, text) => {
          const json = JSON.stringify({
            version: 3,
            sources: ['a.js', null, 'b.js'],
            names: [],
            mappings: encodeLines(lines),
          })
          const parts = sourceMapParts(json, text, MAP_URL)
          let at = 0
          for (const { from, bytes } of parts) {
            expect(from).toBe(at)
            expect(bytes).toBeGreaterThan(0)
            at += bytes
          }
          expect(at).toBe(Buffer.byteLength(text))
        },
      ),
      { numRuns: 300 },
    )
  })

  it('are none of a file that is no map', () => {
    for (const bad of ['', 'null', '[]', '{"version":3}', '{"version":2,"sources":[],"mappings":""}'])
      expect(() => sourceMapParts(bad, 'text', MAP_URL)).toThrow()
  })
})

it('are charged by the addresses of their sources, and by folder on a site that tells nothing', () => {
  const parts = [
    { source: 'https://site.test/add-ons/a/a.js', from: 0, bytes: 10 },
    { source: 'bundler:///src/b.js', from: 10, bytes: 20 },
    { source: null, from: 30, bytes: 5 },
    { source: 'https://stranger.test/add-ons/a/a.js', from: 35, bytes: 5 },
  ]
  const own = { ...NO_SOURCES, ownHosts: ['site.test'] }
  const addons = (sources: typeof own) => sharesOfParts(parts, sources)?.map(({ addon }) => addon)
  expect(addons({ ...own, prefixes: [{ prefix: '/add-ons/a/', addon: 'a' }] })).toEqual(['a', null, null, null])
  expect(addons({ ...own, byOwnFolders: true } as typeof own)?.slice(1)).toEqual([null, null, null])
  expect(addons({ ...own, byOwnFolders: true } as typeof own)?.[0]).toMatch(/^own:\/add-ons\/a/)
  expect(addons(own)).toBeUndefined()
})

/** Base 64 VLQ, as source maps have it. */
function encodeLines(lines: number[][][]): string {
  const previous = [0, 0, 0, 0]
  return lines
    .map((segments) => {
      previous[0] = 0
      return segments
        .map((segment) =>
          segment
            .map((value, n) => {
              const text = vlq(value - previous[n]!)
              previous[n] = value
              return text
            })
            .join(''),
        )
        .join(',')
    })
    .join(';')
}

function vlq(value: number): string {
  const digits = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/'
  let rest = value < 0 ? (-value << 1) | 1 : value << 1
  let text = ''
  do {
    const digit = rest & 31
    rest >>>= 5
    text += digits[rest > 0 ? digit | 32 : digit]
  } while (rest > 0)
  return text
}
