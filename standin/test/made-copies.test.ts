import type { Database } from '../src/cms/database.js'
import { hashOf, MadeCopies } from '../src/cms/made-copies.js'

/** Copies that were made of own files, without a database: what is written is not read again here. */
const FILE = '/themes/oak/oak.css'
let files: Record<string, Buffer>
let copies: MadeCopies
const at = (path: string) => files[path]
const give = (text: string) => {
  const body = Buffer.from(text)
  return copies.keep({ content: hashOf(body), from: hashOf(files[FILE]!), address: `http://oak.localhost:1${FILE}?v=1`, addon: 'oak', body }) // prettier-ignore
}

beforeEach(() => {
  files = { [FILE]: Buffer.from('a{}b{}') }
  copies = new MadeCopies({ query: async () => [] } as unknown as Database)
})

it('a copy has a path of its own, on which it is what was given, and its owner pays for it', async () => {
  const [path, again, other] = [await give('a{}'), await give('a{}'), await give('b{}')]
  expect(again).toBe(path)
  expect(other).not.toBe(path)
  expect(copies.get(path)!.toString()).toBe('a{}')
  expect(copies.register()).toEqual({ [path]: 'oak', [other]: 'oak' })
  expect(copies.list(at)).toMatchObject([{ path, trouble: null }, { path: other }])
})

it('stands in for the file that it was made from, and for no other version of it', async () => {
  const content = hashOf(Buffer.from('a{}'))
  const path = await give('a{}')
  expect(copies.standingIn(at)).toEqual({ [content]: { to: path, integrity: content } })
  files[FILE] = Buffer.from('a{}b{}c{}')
  expect(copies.standingIn(at)).toEqual({})
  expect(copies.list(at)[0]!.trouble).toMatch(/another one by now/)
  // Pages made before name it still.
  expect(copies.get(path)).toBeDefined()
  delete files[FILE]
  expect(copies.standingIn(at)).toEqual({})
})
