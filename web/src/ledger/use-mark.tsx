import type { UseWord } from './sheet.js'

/** What is known of use, by shape: a disc, a ring, a square, a bar. Nothing where nothing is known. */
const SHAPES: Record<Exclude<UseWord, 'unknown'>, string> = {
  used: 'rounded-full bg-current',
  planned: 'rounded-full border-[1.5px] border-current',
  'works unseen': 'border-[1.5px] border-current',
  'not seen': 'h-px! translate-y-[2.5px] bg-current',
}

export function UseMark({ word, inline = false }: { word: UseWord; inline?: boolean }) {
  if (word === 'unknown') return null
  return (
    <span
      aria-hidden
      className={`${inline ? 'inline-block' : 'absolute top-[3px] left-[3px]'} size-[6px] ${SHAPES[word]}`}
    />
  )
}
