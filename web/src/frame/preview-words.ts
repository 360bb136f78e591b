import type { SweepPages } from '@unvelt/contract'
import { percent, plural, roughly } from '../figures/format.js'
import type { Choice } from './page-choice-request.js'

/** What is going to be read, in a sentence or two. */
export function previewWords(lenses: readonly SweepPages[], choice: Choice, repeats: number): string {
  const [first] = lenses
  if (!first) return ''
  const readings = lenses.reduce((sum, { pages }) => sum + pages, 0) * repeats
  const fewest = Math.min(...lenses.map(({ pages }) => pages))
  const most = Math.max(...lenses.map(({ pages }) => pages))
  const pages = fewest === most ? plural(most, 'page') : `${fewest} to ${most} pages, by lens`
  const of = fewest === most && most < first.of ? ` of ${first.of}` : ''
  const share = first.share !== null && most < first.of ? `, with ${percent(first.share)} of the known page views` : ''
  const chosen = choice.which === 'hand' || choice.which === 'sitemap' ? choice.ids.length : 0
  const hidden = chosen - fewest
  const unseen =
    hidden > 0
      ? ` ${plural(hidden, 'page')} of those chosen can’t be seen through ${lenses.length > 1 ? 'each' : 'the'} lens.`
      : ''
  // Where one lens was never looked through, nothing is known of the whole.
  const seconds = lenses.reduce((sum, { pages, secondsEach }) => sum + pages * repeats * (secondsEach ?? NaN), 0)
  const long = seconds > 0 ? `, about ${roughly(seconds)} at the pace of the last sweep` : ''
  return `${pages}${of}${share}: ${plural(readings, 'reading')}${long}.${unseen}`
}
