import { inlineTexts, markedElements, readStyleRules, type InlineText, type StyleRule } from '@unvelt/core'

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
