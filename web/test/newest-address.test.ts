import { NewestAddress } from '../src/parts/newest-address.js'

const params = (text: string) => new URLSearchParams(text)
const setting = (key: string, value: string) => (old: URLSearchParams) => {
  old.set(key, value)
  return old
}

describe('the newest address', () => {
  it('keeps a write that is not drawn yet when another follows', () => {
    const newest = new NewestAddress(params('a=1'))
    newest.written(setting('b', '2'))
    expect(newest.written(setting('c', '3')).toString()).toBe('a=1&b=2&c=3')
  })

  it('is not thrown back by the first of two writes being drawn', () => {
    const newest = new NewestAddress(params(''))
    const first = newest.written(setting('a', '1'))
    newest.written(setting('b', '2'))
    newest.drawn(params(first.toString()))
    expect(newest.written(setting('c', '3')).toString()).toBe('a=1&b=2&c=3')
  })

  it('follows an address that somebody else wrote', () => {
    const newest = new NewestAddress(params(''))
    newest.written(setting('a', '1'))
    newest.drawn(params('z=9'))
    expect(newest.written(setting('b', '2')).toString()).toBe('z=9&b=2')
  })
})
