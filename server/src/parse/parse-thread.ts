import { inlineTexts, markedElements, readStyleRules, type InlineText, type StyleRule } from '@unvelt/core'

/** What can be asked of the thread, and what it answers. */
export interface Questions {
  style: { text: string; answer: StyleRule[] }
  inline: { text: string; answer: InlineText[] }
  marks: { text: string; answer: [addon: string, elements: number][] }
}

const ANSWERS: { [K in keyof Questions]: (text: string) => Questions[K]['answer'] } = {
  style: readStyleRules,
  inline: inlineTexts,
  marks: (html) => [...markedElements(html)],
}

/** Runs in a thread of its own: what a site sends is taken apart here, where it can be ended. */
export default function answer<K extends keyof Questions>({
  kind,
  text,
}: {
  kind: K
  text: string
}): Questions[K]['answer'] {
  return ANSWERS[kind](text)
}
