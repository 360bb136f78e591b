import fc from 'fast-check'
import { declaredFaces, meanAdvance, standInFor, type FontMetrics } from '../src/index.js'

const ARIAL = [556, 556, 500, 556, 556, 278, 556, 556, 222, 222, 500, 222, 833, 556, 556, 556, 556, 333, 500, 278, 556, 500, 722, 500, 500, 500, 278].map((advance) => advance / 1000) // prettier-ignore
const font = (own: Partial<FontMetrics> = {}): FontMetrics => ({
  ascent: 0.9,
  descent: 0.2,
  lineGap: 0.05,
  advances: ARIAL,
  serif: false,
  monospace: false,
  ...own,
})
const face = { family: 'Own', weight: '400', style: 'normal' as const }

it('a font as wide as the system’s stands in as it is', () => {
  expect(standInFor(face, font())).toMatchObject({ size: 100, ascent: 90, descent: 20, lineGap: 5 })
})

it('one that is wider is drawn larger, and its lines stay as high', () => {
  const wide = standInFor(face, font({ advances: ARIAL.map((advance) => advance * 1.25) }))!
  expect(wide).toMatchObject({ size: 125, ascent: 72, descent: 16, lineGap: 4 })
})

it.each([
  ['sans', {}, face, 'Arial'],
  ['serif', { serif: true }, face, 'Times New Roman'],
  ['of one width', { monospace: true, serif: true }, face, 'Courier New'],
  ['bold', {}, { ...face, weight: '700' }, 'Arial Bold'],
  ['bold and slanted', { serif: true }, { ...face, weight: '600', style: 'italic' as const }, 'Times New Roman Bold Italic'],
  ['variable from light', {}, { ...face, weight: '200 900' }, 'Arial'],
])('a %s one has a fitting one stand in, by its full name', (_, own, declared, name) => {
  expect(standInFor(declared, font(own))!.local[0]).toBe(name)
}) // prettier-ignore

it('for a font of signs nothing stands in', () => {
  expect(standInFor(face, font({ advances: [] }))).toBeNull()
  expect(standInFor(face, font({ advances: ARIAL.map((advance, n) => (n === 3 ? 0 : advance)) }))).toBeNull()
})

it('whatever the font, a text in its stand-in is as wide and its lines as high', () => {
  const advances = fc.array(fc.double({ min: 0.1, max: 1.5, noNaN: true }), { minLength: 27, maxLength: 27 })
  const anyFont = fc.record({
    advances,
    ascent: fc.double({ min: 0.5, max: 1.5, noNaN: true }),
    descent: fc.double({ min: 0, max: 0.8, noNaN: true }),
    lineGap: fc.double({ min: 0, max: 0.5, noNaN: true }),
    serif: fc.constant(false),
    monospace: fc.constant(false),
  })
  fc.assert(
    fc.property(anyFont, (metrics) => {
      const { size, ascent, descent } = standInFor(face, metrics)!
      expect((size / 100) * meanAdvance(ARIAL)).toBeCloseTo(meanAdvance(metrics.advances), 3)
      expect((ascent / 100) * (size / 100)).toBeCloseTo(metrics.ascent, 3)
      expect((descent / 100) * (size / 100)).toBeCloseTo(metrics.descent, 3)
    }),
  )
})

it('declared faces are read, with their files and whether Latin is among their signs', () => {
  const css = `
    @font-face { font-family: 'Lora Own'; font-weight: bold; font-style: italic; src: url(/a.woff2) format("woff2"), url("b.woff") }
    @media screen { @font-face { font-family: Cyr; src: url(c.woff2); unicode-range: U+0400-045F, U+2116 } }
    @font-face { font-family: Latin; font-weight: 200 900; src: local(X), url(d.woff2); unicode-range: U+0000-00FF }
    @font-face { src: url(e.woff2) } @font-face { font-family: Broken; src: url( } h1 { font-family: Lora }`
  const faces = declaredFaces(css)
  expect(faces.slice(0, 3)).toEqual([
    { family: 'Lora Own', weight: '700', style: 'italic', sources: ['/a.woff2', 'b.woff'], hasLatin: true },
    { family: 'Cyr', weight: '400', style: 'normal', sources: ['c.woff2'], hasLatin: false },
    { family: 'Latin', weight: '200 900', style: 'normal', sources: ['d.woff2'], hasLatin: true },
  ])
})

it('whatever stands for a style, reading its faces ends', () => {
  const piece = fc.constantFrom('@font-face', '{', '}', 'font-family:', 'x', '"', ';', 'src:url(', ')', 'unicode-range:', 'U+4?', '/*', ',')
  fc.assert(
    fc.property(fc.array(piece, { maxLength: 60 }), (pieces) => {
      for (const { family, weight } of declaredFaces(pieces.join(''))) {
        expect(family).not.toBe('')
        expect(weight).toMatch(/^\d+( \d+)?$/)
      }
    }),
  )
}) // prettier-ignore
