import fc from 'fast-check'
import { cameOfPromise, fileStem, type MetFile } from '../src/index.js'

const AT = 'http://site.test/pictures/'
const promise = { url: `${AT}hill.jpg`, bytes: 400_000, saving: 300_000 }
const met = (...files: [name: string, bytes: number][]) =>
  new Map(files.map(([name, bytes]): [string, MetFile] => [AT + name, { url: AT + name, bytes }]))
const came = (now: Map<string, MetFile>, known: string[] = ['hill.jpg']) =>
  cameOfPromise(promise, now, new Set(known.map((name) => AT + name)))

describe('what came of a promise', () => {
  it('is told by what the file weighs now', () => {
    expect(came(met(['hill.jpg', 100_500]))).toEqual({ word: 'kept', came: 299_500, now: `${AT}hill.jpg` })
    expect(came(met(['hill.jpg', 300_000])).word).toBe('in part')
    expect(came(met(['hill.jpg', 400_150])).word).toBe('not yet')
    expect(came(met(['hill.jpg', 700_000]))).toMatchObject({ word: 'heavier', came: -300_000 })
  })

  it('knows what came in its place by its name, where it was not there before', () => {
    expect(came(met(['hill.webp', 90_000]))).toEqual({ word: 'kept', came: 310_000, now: `${AT}hill.webp` })
    expect(came(met(['hill-800x600.avif', 90_000])).now).toBe(`${AT}hill-800x600.avif`)
    // It was there before, as a small one of the same.
    expect(came(met(['hill-150x150.jpg', 4_000]), ['hill.jpg', 'hill-150x150.jpg'])).toEqual({
      word: 'gone',
      came: 400_000,
      now: null,
    })
    expect(came(met(['valley.webp', 90_000])).word).toBe('gone')
  })

  it('takes the heaviest of several that could be meant, so that nothing is claimed that did not come', () => {
    expect(came(met(['hill-400w.webp', 20_000], ['hill-1600w.webp', 250_000]))).toMatchObject({
      word: 'in part',
      now: `${AT}hill-1600w.webp`,
    })
  })

  it('never says that all was kept where less came than was promised', () => {
    const size = fc.integer({ min: 1_000, max: 5_000_000 })
    fc.assert(
      fc.property(size, size, fc.double({ min: 0.01, max: 1, noNaN: true }), (bytes, now, share) => {
        const saving = Math.max(1, Math.round(bytes * share))
        const url = `${AT}a.js`
        const of = cameOfPromise({ url, bytes, saving }, new Map([[url, { url, bytes: now }]]), new Set([url]))
        expect(of.came).toBe(bytes - now)
        if (of.word === 'kept') expect(of.came).toBeGreaterThanOrEqual(0.9 * saving)
        if (of.word === 'heavier') expect(now).toBeGreaterThan(bytes)
      }),
    )
  })
})

describe('a file’s name', () => {
  it('stays when it is made anew', () => {
    for (const name of ['hill.jpg', 'hill.webp', 'hill-800x600.jpg', 'hill@2x.png', 'hill-1600w.avif', 'Hill.min.js'])
      expect(fileStem(AT + name)).toBe('hill')
    expect(fileStem(`${AT}app.3f9c2a1b.js?ver=3`)).toBe('app')
    expect(fileStem(`${AT}facade.css`)).toBe('facade')
  })
  it('is none where nothing is left of it', () => {
    for (const address of [AT.replace('pictures/', ''), `${AT}1.png`, 'no address'])
      expect(fileStem(address)).toBeNull()
  })
})
