import {
  declaredFaces,
  idleFunctions,
  inlineTexts,
  markedElements,
  readStyleRules,
  usedNowhere,
  withoutRules,
  type FaceWithFiles,
  type FontMetrics,
  type InlineText,
  type NowhereRule,
  type Range,
  type StyleRule,
} from '@unvelt/core'

/** What can be asked of the thread, and what it answers. */
export interface Questions {
  style: { text: string; answer: StyleRule[] }
  inline: { text: string; answer: InlineText[] }
  marks: { text: string; answer: [addon: string, elements: number][] }
  /** Written more shortly, with so many places behind the point. */
  'svg 0': { text: string; answer: string }
  'svg 1': { text: string; answer: string }
  'svg 3': { text: string; answer: string }
  /** Minified, with all names that others could know left as they are. */
  'short script': { text: string; answer: string }
  'short style': { text: string; answer: string }
  faces: { text: string; answer: FaceWithFiles[] }
  /** Of `{ css, used }`: what of a stylesheet was used nowhere. */
  nowhere: { text: string; answer: NowhereRule[] }
  /** Of `{ code, used }`: which functions of a script never ran. Null for what is no script. */
  'idle functions': { text: string; answer: NowhereRule[] | null }
  /** Of `{ css, gone }`: a stylesheet without some of its rules. */
  cleaned: { text: string; answer: string }
  /** Of a font file, in base64. Null for a font without Latin letters. */
  font: { text: string; answer: FontMetrics | null }
}

const ANSWERS: { [K in keyof Questions]: (text: string) => Questions[K]['answer'] | Promise<Questions[K]['answer']> } =
  {
    style: readStyleRules,
    inline: inlineTexts,
    marks: (html) => [...markedElements(html)],
    'svg 0': (text) => shortened(text, 0),
    'svg 1': (text) => shortened(text, 1),
    'svg 3': (text) => shortened(text, 3),
    'short script': shortScript,
    'short style': shortStyle,
    faces: declaredFaces,
    nowhere: (text) => {
      const { css, used } = JSON.parse(text) as { css: string; used: Range[] }
      return usedNowhere(css, used)
    },
    'idle functions': (text) => {
      const { code, used } = JSON.parse(text) as { code: string; used: Range[] }
      return idleFunctions(code, used)
    },
    cleaned: (text) => {
      const { css, gone } = JSON.parse(text) as { css: string; gone: { from: number; to: number }[] }
      return withoutRules(css, gone)
    },
    font: fontMetrics,
  }

/** Names in it may be those of a style or a script around it, so they stay. */
async function shortened(svg: string, floatPrecision: number): Promise<string> {
  // Large, and most threads never need it.
  const { optimize } = await import('svgo')
  return optimize(svg, {
    multipass: true,
    floatPrecision,
    plugins: [{ name: 'preset-default', params: { overrides: { cleanupIds: false } } }],
  }).data
}

async function shortScript(text: string): Promise<string> {
  const { transform } = await import('esbuild')
  // What a script has at its top is seen by others, and keeps its name as long as no format is asked for.
  return (await transform(text, { minify: true, legalComments: 'none', logLevel: 'silent', target: 'esnext' })).code
}

async function shortStyle(text: string): Promise<string> {
  const { transform } = await import('lightningcss')
  return Buffer.from(
    transform({ filename: 'style.css', code: Buffer.from(text, 'utf8'), minify: true, errorRecovery: true }).code,
  ).toString('utf8')
}

const LETTERS = 'abcdefghijklmnopqrstuvwxyz '
const CAPITAL_I = 0x49
/** A capital I of a stem alone is narrower than that, by its height; one with serifs is wider. */
const SERIF_FROM = 0.27

async function fontMetrics(base64: string): Promise<FontMetrics | null> {
  const { create } = await import('fontkit')
  const made = create(Buffer.from(base64, 'base64'))
  const font = 'fonts' in made ? made.fonts[0]! : made
  const { unitsPerEm } = font
  if (![...LETTERS].every((letter) => font.hasGlyphForCodePoint(letter.codePointAt(0)!))) return null
  const os2 = font['OS/2']
  const stem = font.glyphForCodePoint(CAPITAL_I).bbox
  const isTypo = os2?.fsSelection?.useTypoMetrics === true
  const vertical = isTypo
    ? { ascent: os2.typoAscender, descent: os2.typoDescender, lineGap: os2.typoLineGap }
    : { ascent: font.ascent, descent: font.descent, lineGap: font.lineGap }
  return {
    ascent: vertical.ascent / unitsPerEm,
    descent: Math.abs(vertical.descent) / unitsPerEm,
    lineGap: vertical.lineGap / unitsPerEm,
    advances: [...LETTERS].map((letter) => font.glyphForCodePoint(letter.codePointAt(0)!).advanceWidth / unitsPerEm),
    // Few fonts say of themselves whether they have serifs, and some say so wrongly.
    serif: stem.width / stem.height > SERIF_FROM,
    monospace: Boolean((font as unknown as { post?: { isFixedPitch?: number } }).post?.isFixedPitch),
  }
}

/** Runs in a thread of its own: what a site sends is taken apart here, where it can be ended. */
export default function answer<K extends keyof Questions>({
  kind,
  text,
}: {
  kind: K
  text: string
}): Questions[K]['answer'] | Promise<Questions[K]['answer']> {
  return ANSWERS[kind](text)
}
