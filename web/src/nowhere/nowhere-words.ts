import type { NowhereCount, NowhereFile, NowhereView } from '@unvelt/contract'
import { bytes, plural } from '../figures/format.js'

/** Why a rule is kept that was seen in use nowhere, or why a function may run that never did. */
export const KEPT_WORDS: Record<NonNullable<NowhereCount['because']>, string> = {
  print: 'for paper',
  condition: 'under a condition that no lens met',
  state: 'for a state that comes and goes',
  script: 'named in a script',
  event: 'waits for something to be done',
  later: 'called in its own time',
  called: 'named by code that runs',
}

const sum = (counts: readonly NowhereCount[], of: 'rules' | 'bytes') =>
  counts.reduce((total, count) => total + count[of], 0)

/** All of them. */
export const together = (counts: readonly NowhereCount[]) => ({
  rules: sum(counts, 'rules'),
  bytes: sum(counts, 'bytes'),
})

/** What can go of a file. */
export const going = (counts: readonly NowhereCount[]) => counts.find(({ because }) => because === null)

/** What is kept of a file though nothing used it. */
export function keptWords({ type, counts }: Pick<NowhereFile, 'type' | 'counts'>): string {
  const kept = counts.filter(({ because }) => because !== null)
  if (kept.length === 0) return 'nothing'
  const all = together(kept)
  return `${plural(all.rules, RULE[type])}, ${bytes(all.bytes)}`
}

/** What a file of that type is made of. */
export const RULE: Record<NowhereFile['type'], string> = { style: 'rule', script: 'function' }

/** The same, reason by reason. */
export const keptReasons = (counts: readonly NowhereCount[]): string =>
  counts.flatMap(({ because, rules }) => (because === null ? [] : [`${rules} ${KEPT_WORDS[because]}`])).join(', ')

/** How and where it was looked for. */
export function lookedForWords({ lenses, steps, scripts }: NowhereView): string {
  const through = lenses.length === 0 ? '' : ` through ${lenses.join(' and ')}`
  const after = steps.length === 0 ? '' : `, also after the steps ${steps.join(', ')}`
  return `Looked for on every page that loads the file, in each sweep that saw it as it is now${through}${after}; names of classes and of functions in ${plural(scripts, 'script')} too.`
}

/** Where a file stands: its host and folder. */
export function folderOf(url: string): string {
  if (!URL.canParse(url)) return ''
  const { host, pathname } = new URL(url)
  return `${host}${pathname.slice(0, pathname.lastIndexOf('/') + 1)}`
}
