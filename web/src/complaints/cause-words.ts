import type { CauseSearch, CauseStageView, ChangedAddOn } from '@unvelt/contract'
import { plural } from '../figures/format.js'

/** What became of an add-on between two sweeps. */
export const changeWords = ({ from, to }: ChangedAddOn): string =>
  from === null ? `${to} came` : to === null ? 'went' : `${from} → ${to}`

const LEVELS: Record<CauseStageView['level'], string> = {
  earlier: 'change',
  absent: 'add-on',
  addon: 'add-on',
  feature: 'feature',
  file: 'file',
  version: 'version',
}

export const readingsOf = ({ tries }: Pick<CauseStageView, 'tries'>): number =>
  tries.reduce((sum, { readings }) => sum + readings, 0)

/** How a search stands that is under way. */
export function runningWords({ stages }: CauseSearch): string {
  const stage = stages.at(-1)
  if (!stage) return 'The page is about to be read …'
  const { asking, suspects, level, mends } = stage
  const all = plural(suspects.length, LEVELS[level])
  const now =
    asking === null
      ? 'going on'
      : level === 'version'
        ? `reading it with ${asking[0]} in its place`
        : mends
          ? mendingWords(stage, asking)
          : asking.length === suspects.length
            ? 'reading the page as it is'
            : asking.length === 0
              ? 'reading it without any of them'
              : `reading it with ${asking.length === 1 ? 'one' : asking.length} of them`
  return `Among ${all}: ${plural(
    stages.reduce((sum, one) => sum + readingsOf(one), 0),
    'reading',
  )} so far, ${now} …`
}

function mendingWords(stage: CauseStageView, asking: readonly string[]): string {
  if (asking.length === 0) return 'reading the page as it is'
  const what = asking.length === 1 ? nameIn(stage, asking[0]!) : String(asking.length)
  return stage.level === 'earlier' ? `reading it with ${what} put back` : `reading it without ${what}`
}

/** What is said of a set that was tried, by what was asked of it. */
export const saysOf = ({ kind }: CauseSearch, { mends, level }: CauseStageView): { breaks: string; holds: string } =>
  mends
    ? { breaks: 'well again', holds: 'still so' }
    : kind === 'guard' && level === 'version'
      ? { breaks: 'still so', holds: 'well again' }
      : { breaks: 'complains', holds: 'does not' }

export const nameIn = ({ suspects, names }: CauseStageView, id: string): string =>
  names[suspects.findIndex((one) => one.id === id)] ?? id

const found = (search: CauseSearch, level: CauseStageView['level']): string[] => {
  const stage = search.stages.find((one) => one.level === level && one.outcome === 'found')
  return stage ? stage.found.map((id) => nameIn(stage, id)) : []
}

export const foundFiles = (search: CauseSearch) => found(search, 'file')
export const foundFeatures = (search: CauseSearch) => found(search, 'feature')

/** What was found in one sentence; where nothing was, what that means. */
export function outcomeWords(search: CauseSearch): string {
  const [stage] = search.stages
  if (search.state === 'failed') return `Not found: ${search.failure ?? 'it could not be carried on.'}`
  if (search.state === 'stopped') return 'Stopped before it was found.'
  if (search.kind === 'guard') return guardOutcomeWords(search)
  if (stage?.outcome === 'never') return 'The page does not complain of it any more, or not each time.'
  if (stage?.outcome === 'without')
    return stage.suspects.length === 0
      ? 'Nothing on this page is known that could be left out, so nobody can say.'
      : `It is none of ${plural(stage.suspects.length, 'add-on')}: the page complains with all of them left out, as far as they can be. Look at the content, the template and the CMS itself.`
  const names = search.guilty.map(({ name, version }) => (version ? `${name} ${version}` : name))
  if (names.length > 1)
    return `Only together: ${names.join(' and ')}. Without any one of them the page does not complain.`
  const features = foundFeatures(search)
  const files = foundFiles(search).map((file) => file.split('/').at(-1)!)
  const parts = [
    features.length > 0 && `by ${features.join(' with ')}`,
    files.length > 0 && `in ${files.join(' together with ')}`,
  ].filter(Boolean)
  return `${names[0]} causes it${parts.length > 0 ? `, ${parts.join(', ')}` : ''}.${versionWords(search)}`
}

/** The same of what a guard found, which is asked for by what mends it. */
function guardOutcomeWords(search: CauseSearch): string {
  const { stages, guilty } = search
  if (stages[0]?.outcome === 'never') return 'It is as it should be by now.'
  if (guilty.length === 0)
    return `None of ${plural(stages.at(-1)?.suspects.length ?? 0, 'add-on')} mends it by being left out${
      stages[0]?.level === 'earlier' ? ', nor by being put back as it was' : ''
    }. Look at the content, the template and the CMS itself.`
  const names = guilty.map(({ name, version }) => (version ? `${name} ${version}` : name)).join(' and ')
  const isPutBack = stages.some(({ level, outcome }) => level === 'earlier' && outcome === 'found')
  const files = foundFiles(search).map((file) => file.split('/').at(-1)!)
  const without = files.length > 0 ? ` It is well without ${files.join(' and ')} alone, too.` : ''
  return `${names} ${guilty.length > 1 ? 'cause' : 'causes'} it: the page is well ${
    isPutBack ? 'with what was there before' : guilty.length > 1 ? 'without them' : 'without it'
  }.${without}${versionWords(search)}`
}

/** What other versions of the guilty one do on the same page; nothing where none was tried to the end. */
export function versionWords({ kind, stages }: CauseSearch): string {
  const stage = stages.find(({ level }) => level === 'version')
  if (!stage || stage.outcome === null) return ''
  const [well, not] = kind === 'guard' ? ['is well', 'is not well either'] : ['does not complain', 'complains as well']
  if (stage.outcome === 'found') return ` With version ${stage.found[0]} in its place the page ${well}.`
  const tried = stage.suspects.map(({ id }) => id)
  return ` With ${tried.join(', ')} in its place the page ${not}.`
}
