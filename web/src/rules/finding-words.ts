import type { RuleFinding } from '@unvelt/contract'
import { plural } from '../figures/format.js'
import { conditionWords, effectWords, placeWords, subjectWords } from './words.js'

type Found = RuleFinding['rules'][number]

const said = ({ rule, state }: Found) =>
  [
    subjectWords(rule),
    effectWords(rule),
    placeWords(rule.place),
    conditionWords(rule),
    state === 'draft' ? '(draft)' : '',
  ]
    .filter(Boolean)
    .join(' ')

/** What a finding says, in a sentence. */
export function findingWords({ kind, rules, pageCount, about, broughtIn }: RuleFinding): string {
  const [first, second] = rules
  const on = plural(pageCount, 'page')
  if (kind === 'off-arrives')
    return `${about} is switched off at the site, and its files still came on ${on} of the last sweep${wayInWords(broughtIn)}.`
  if (!first) return ''
  switch (kind) {
    case 'conflict':
      return `${rules.map(said).join(', and ')}: on ${on} they say different things, and can’t go live together.`
    case 'hidden':
      return `${said(first)} never decides: ${second ? said(second) : 'another rule'} does wherever it could.`
    case 'nowhere':
      return `${said(first)} fits no page and no file that is known.`
    case 'needed':
      return `${said(first)}, though ${about ?? 'what stays needs it'}, on ${on}.`
    case 'unmeant':
      return `${said(first)} also holds in the back office, where nobody may have meant it.`
    case 'outdated':
      return `${said(first)} was written for another version of the add-on; now it is ${about ?? 'newer'}.`
    case 'expired':
      return `${said(first)} was to hold until ${about ?? 'a day that is over'}.`
    case 'unlicensed':
      return `${said(first)}: nobody has said that its files may be copied.`
    case 'in-use':
      return `${said(first)}, though it was seen in use on ${on}.`
    case 'still-arrives':
      return `${said(first)} is live, and its files still came on ${on} of the last sweep${wayInWords(broughtIn)}.`
  }
}

const HOW: Record<RuleFinding['broughtIn'][number]['how'], [byPage: string, byOther: string]> = {
  tag: ['a tag in the page', 'a tag'],
  script: ['code in the page', 'a script'],
  style: ['a style in the page', 'a style'],
  redirect: ['a redirect', 'a redirect'],
}

/** Who brings in what arrives all the same, as the end of a sentence. */
export function wayInWords(ways: RuleFinding['broughtIn']): string {
  if (ways.length === 0) return ''
  const words = ways.map(({ by, how }) => (by === null ? HOW[how][0] : `${HOW[how][1]} of ${by}`))
  return `: brought in by ${[...new Set(words)].join(', and by ')}`
}
