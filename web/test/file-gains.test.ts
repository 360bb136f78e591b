import 'reflect-metadata'
import type { FileLook, LookedAtFile } from '@unvelt/contract'
import { fileGains, isKeptTooShort, nowWords } from '../src/file-look/file-gains.js'

const file = (more: Partial<LookedAtFile>): LookedAtFile => ({
  url: 'https://site.test/app.js',
  type: 'script',
  isOwn: true,
  bytes: 1_000,
  encoding: '',
  plain: 1_000,
  gzip: 400,
  brotli: 380,
  minified: { plain: 990, gzip: 395, brotli: 379 },
  keptSeconds: 60,
  hasFingerprint: false,
  why: null,
  ...more,
})

it('what spares most comes first, and what is too little to matter is apart', () => {
  const small = file({ url: 'https://site.test/small.js', bytes: 385, encoding: 'gzip' })
  const large = file({ url: 'https://site.test/large.js', bytes: 90_000 })
  const { worth, rest } = fileGains({ files: [small, file({}), large], leastBytes: 100 } as FileLook)
  expect(worth.map(({ file: { url } }) => url.split('/').at(-1))).toEqual(['large.js', 'app.js'])
  expect(rest.map(({ spared }) => spared)).toEqual([5])
})

it('says how a file comes, and which is asked for again too soon', () => {
  expect(nowWords(file({}))).toBe('not packed, minified')
  expect(nowWords(file({ encoding: 'br', minified: null }))).toBe('Brotli')
  expect(nowWords(file({ encoding: 'gzip', minified: { plain: 0, gzip: 20, brotli: 1 } }))).toContain('nothing runs')
  expect(isKeptTooShort(file({}))).toBe(false)
  expect(isKeptTooShort(file({ hasFingerprint: true }))).toBe(true)
  expect(isKeptTooShort(file({ hasFingerprint: true, keptSeconds: null }))).toBe(true)
  expect(isKeptTooShort(file({ hasFingerprint: true, keptSeconds: 31_536_000 }))).toBe(false)
  expect(isKeptTooShort(file({ hasFingerprint: true, bytes: 0, why: 'away' }))).toBe(false)
})
