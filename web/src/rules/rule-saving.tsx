import type { Measure, RuleSaving } from '@unvelt/contract'
import { dateTime, MEASURE_WORDS, plural } from '../figures/format.js'

const WHY: Record<NonNullable<RuleSaving['because']>, string> = {
  keeps: 'It keeps what another rule takes away.',
  'other-visits': 'Sweeps are read at a desk by people who have not signed in; this rule is for others.',
  'always-live': 'It was live in every sweep that is kept. Sweep once without the rules to see what it spares.',
  'not-read': 'None of its pages was read in a sweep without it.',
}
const LEAST = 0.05

/** What a rule spares on the mean page that it holds on. */
export function RuleSavingCell({ saving }: { saving: RuleSaving | undefined }) {
  if (!saving) return null
  if (saving.because !== null) return <span title={WHY[saving.because]}>–</span>
  return <span title={basis(saving)}>{savingWords(saving)}</span>
}

/** Requests and bytes; what is only postponed is said to come later. */
export function savingWords({ saved, postponed }: Pick<RuleSaving, 'saved' | 'postponed'>): string {
  const of = (figures: Record<string, number>) =>
    [
      Math.abs(figures.requests ?? 0) >= LEAST ? `${requests(figures.requests!)}` : '',
      Math.abs(figures.transferBytes ?? 0) >= 1 ? MEASURE_WORDS.transferBytes.long(figures.transferBytes!) : '',
    ].filter(Boolean)
  const [now, later] = [of(saved), of(postponed)]
  if (now.length + later.length > 0) return now.length > 0 ? now.join(' · ') : `${later.join(' · ')} later`
  const server = (['serverMs', 'queries'] satisfies Measure[]).find((measure) => (saved[measure] ?? 0) >= LEAST)
  return server ? `${MEASURE_WORDS[server].long(saved[server]!)}${server === 'queries' ? ' queries' : ''}` : 'nothing'
}

const requests = (n: number) => `${Number.isInteger(n) ? n : n.toFixed(1)} req.`

const basis = ({ pages, sweepId, readAt }: RuleSaving) =>
  `On the mean of ${plural(pages, 'page')}, by sweep ${sweepId} of ${dateTime(readAt!)}, which was read without it.`
