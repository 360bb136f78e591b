import { createHash } from 'node:crypto'
import type { Rule } from '@unvelt/core'
import type { Database } from '../src/cms/database.js'
import { LocalCopies } from '../src/cms/local-copies.js'

/** Copies of files that an outsider changes, without a database: what is written is not read again here. */
const DAY = 86_400_000
const CSS = 'http://faces.localhost/all.css'
let files: Record<string, { body: string; type: string }>
let asked: string[]
let copies: LocalCopies

beforeEach(() => {
  asked = []
  files = {
    [CSS]: { body: '@font-face{src:url(/f.woff2)}', type: 'text/css' },
    'http://faces.localhost/f.woff2': { body: 'signs', type: 'font/woff2' },
    'http://count.localhost/c.js': { body: 'count()', type: 'text/javascript' },
  }
  const database = { query: async () => [] } as unknown as Database
  copies = new LocalCopies(database, async (address) => {
    asked.push(address)
    const file = files[address]
    if (!file) throw new Error('it answers 404')
    return { body: Buffer.from(file.body), type: file.type }
  })
})

const local = (file: string, part: Partial<Rule> = {}): Rule => ({
  ...{ id: file, addon: 'faces', file, effect: 'local', place: { level: 'everywhere' } },
  ...part,
})
const put = (rules: Rule[], areLive = true) => copies.fetchFor(rules, () => [], areLive)
const text = (path: string) => copies.get(path)!.toString()

it('a style’s copy names the copies of its fonts, and says what browsers check', async () => {
  await put([local(CSS)])
  const { to, integrity } = copies.byAddress[CSS]!
  const font = copies.byAddress['http://faces.localhost/f.woff2']!.to
  expect(text(to)).toBe(`@font-face{src:url(${font})}`)
  expect(text(font)).toBe('signs')
  expect(integrity).toBe(`sha384-${createHash('sha384').update(text(to)).digest('base64')}`)
  // What a style brings along is no copy of its own.
  expect(copies.list().map(({ address }) => address)).toEqual([CSS])
})

it('is fetched anew once it is old enough, under a path of its own, and the old one stays', async () => {
  await put([local(CSS, { copy: { refreshDays: 7 } })])
  const before = copies.byAddress[CSS]!.to
  files['http://faces.localhost/f.woff2']!.body = 'other signs'
  asked = []
  await copies.refreshDue(Date.now() + 6 * DAY)
  expect(asked).toEqual([])
  await copies.refreshDue(Date.now() + 8 * DAY)
  const after = copies.byAddress[CSS]!.to
  expect(after).not.toBe(before)
  expect(text(copies.byAddress['http://faces.localhost/f.woff2']!.to)).toBe('other signs')
  expect(copies.get(before)).toBeDefined()
  expect(copies.list()).toMatchObject([{ address: CSS, path: after, refreshDays: 7, trouble: null }])
})

it('one that can’t be had anew stays, says why, and is asked for again an hour later', async () => {
  await put([local(CSS, { copy: { refreshDays: 1 } })])
  const before = copies.byAddress[CSS]!.to
  const kept = files[CSS]!
  delete files[CSS]
  const then = Date.now() + 2 * DAY
  await copies.refreshDue(then)
  expect(copies.list()).toMatchObject([{ path: before, trouble: 'it answers 404' }])
  asked = []
  await copies.refreshDue(then + 60_000)
  expect(asked).toEqual([])
  files[CSS] = kept
  await copies.refreshDue(then + 3_700_000)
  expect(copies.list()).toMatchObject([{ path: before, trouble: null }])
})

it('the shortest span of several rules counts, drafts say none, and with its rule gone it stays as it is', async () => {
  const js = 'http://count.localhost/c.js'
  await put([local(js, { copy: { refreshDays: 1 } })], false)
  expect(copies.list()).toMatchObject([{ refreshDays: null }])
  await put([local(js, { copy: { refreshDays: 9 } }), local(js, { id: 'b', copy: { refreshDays: 3 } })])
  expect(copies.list()).toMatchObject([{ refreshDays: 3 }])
  await put([])
  asked = []
  await copies.refreshDue(Date.now() + 400 * DAY)
  expect(asked).toEqual([])
  expect(copies.list()).toMatchObject([{ refreshDays: null }])
})

it('what can’t be copied refuses the whole put', async () => {
  await expect(put([local('http://count.localhost/gone.js')])).rejects.toThrow('can’t be copied: it answers 404')
  expect(copies.list()).toEqual([])
})
