import type { CandidateView, Retirement, RetireQuestionView, RetirementSheet } from '@unvelt/contract'
import { bytes, milliseconds, plural } from '../figures/format.js'

type Step = Retirement['steps'][number]['step']

/** Each step: its name, and what it comes to. */
export const STEP_WORDS: Record<Step, { name: string; means: string }> = {
  use: { name: 'Use', means: 'where it is still used is known' },
  needs: { name: 'Needs', means: 'nothing that is switched on needs it' },
  successor: { name: 'What takes over', means: 'its job is taken over, and every page that used it is changed' },
  word: { name: 'Owner’s word', means: 'who it belongs to has said that it may go' },
  snapshot: { name: 'Snapshot', means: 'made by the site, and read back' },
  rehearsal: { name: 'Rehearsal', means: 'the pages were tried without it, and the guards hold' },
  off: { name: 'Switched off', means: 'the site says so' },
  watch: { name: 'Watched', means: 'for as long as you set, with a sweep at its end, and nothing was missed' },
  removal: { name: 'Removed', means: 'the site does not list it any more' },
  leftovers: { name: 'Leftovers', means: 'no table, setting or task of it is left' },
  proof: { name: 'Proof', means: 'the site was swept since' },
}

export function reasonWords({ kind, about }: CandidateView['reasons'][number]): string {
  switch (kind) {
    case 'switched off':
      return 'switched off, and still installed'
    case 'used nowhere':
      return 'loads on pages, and is in use on none'
    case 'used on few pages':
      return `in use on ${plural(about.length, 'page')} only`
    case 'job done twice':
      return `${about[0]}: done by ${about.slice(1).join(' and ')}, too`
    case 'waits for outsiders':
      return about[0] === 'no answer'
        ? `waits for ${about.slice(1).join(' and ')}, which did not answer`
        : `waits for ${about.slice(1).join(' and ')}, usually ${milliseconds(Number(about[0]))}`
    case 'decided':
      return `decided: ${about[0]}`
    case 'not updated':
      return `the same version for ${plural(Math.floor(Number(about[0]) / 365), 'year')}`
  }
}

export function questionWords({ why, about }: RetireQuestionView): string {
  if (why === 'works unseen') return 'works where no page shows it: ask who relies on it'
  if (why === 'planned') return `planned on ${plural(about.length, 'page')}: ask whoever plans it`
  if (why === 'needed') return `needed by ${about.join(', ')}: these go first, or stay`
  return `of its use nothing is known on ${plural(about.length, 'page')}: ask, or sweep with steps`
}

export const CERTAIN: Record<string, string> = {
  'the site says so': 'the site says so',
  'readings with steps say so': 'readings with steps say so',
  'worth a look': 'worth a look',
}

/** What it costs in a thousand page views. */
export function costWords({ requests, transferBytes, serverMs, mainThreadMs }: Retirement['before']): string {
  const parts = [
    requests >= 1 && plural(Math.round(requests), 'request'),
    transferBytes >= 1 && bytes(transferBytes),
    serverMs >= 1 && `${milliseconds(serverMs)} on the server`,
    mainThreadMs >= 1 && `${milliseconds(mainThreadMs)} in the browser`,
  ].filter(Boolean)
  return parts.length === 0 ? 'nothing on the pages' : parts.join(', ')
}

/** What would be lost with it. */
export function lostWords({ tableBytes, rows, settings, tasks, diskBytes }: CandidateView): string {
  const parts = [
    rows > 0 && `${plural(rows, 'row')} in tables (${bytes(tableBytes)})`,
    settings > 0 && plural(settings, 'setting'),
    tasks.length > 0 && plural(tasks.length, 'scheduled task'),
    diskBytes > 0 && `${bytes(diskBytes)} of files`,
  ].filter(Boolean)
  return parts.length === 0 ? 'nothing that is told' : parts.join(', ')
}

/** How a retirement stands. */
export function standWords({ state, steps, doing, failure }: Retirement): string {
  if (state === 'done') return 'done'
  if (state === 'cancelled') return 'called off'
  const at = steps.find((step) => step.state === 'now')
  const where = at ? `${STEP_WORDS[at.step].name}: ${at.why ?? ''}` : 'all steps are done'
  if (doing) return 'under way at the site …'
  return `${state === 'paused' ? 'paused. ' : ''}${failure ? `${failure} ` : ''}${where}`
}

export const SUCCESSOR_WORDS: Record<NonNullable<RetirementSheet['successor']>['kind'], string> = {
  nothing: 'nothing: it is not needed',
  'built-in': 'the CMS itself',
  'add-on': 'another add-on',
  server: 'the server or delivery network',
  other: 'something else',
}
