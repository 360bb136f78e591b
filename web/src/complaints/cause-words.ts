import type { CauseSearch, CauseStageView, ChangedAddOn, Page, Site } from '@unvelt/contract'
import { plural } from '../figures/format.js'

/** What became of an add-on between two sweeps. */
export const changeWords = ({ from, to }: ChangedAddOn): string =>
  from === null ? `${to} came` : to === null ? 'went' : `${from} → ${to}`

const LEVELS: Record<CauseStageView['level'], string> = {
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
  const { asking, suspects, level } = stage
  const all = plural(suspects.length, LEVELS[level])
  const now =
    asking === null
      ? 'going on'
      : level === 'version'
        ? `reading it with ${asking[0]} in its place`
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

/** What other versions of the guilty one do on the same page; nothing where none was tried to the end. */
function versionWords({ stages }: CauseSearch): string {
  const stage = stages.find(({ level }) => level === 'version')
  if (!stage || stage.outcome === null) return ''
  if (stage.outcome === 'found') return ` With version ${stage.found[0]} in its place the page does not complain.`
  const tried = stage.suspects.map(({ id }) => id)
  return ` With ${tried.join(', ')} in its place the page complains as well.`
}

/** A note for whoever wrote the guilty add-on, in plain text: all that they need to see it themselves. */
export function authorNote(
  search: CauseSearch,
  site: Pick<Site, 'address' | 'cms'>,
  page: Page,
  browser: string,
): string {
  const [guilty] = search.guilty
  if (!guilty) return ''
  const names = search.guilty.map(({ name, version }) => [name, version].filter(Boolean).join(' ')).join(' with ')
  const readings = search.stages.reduce((sum, stage) => sum + readingsOf(stage), 0)
  const alone = search.stages[0]!.tries.find(({ changes, fails }) => fails && changes.length === search.guilty.length)
  const files = foundFiles(search)
  const features = foundFeatures(search)
  const lines = [
    `${names}: a page complains since it is there`,
    '',
    search.kind === 'errors' ? `Error: ${search.text}` : `Request without an answer: ${search.text}`,
    ...(search.place ? [`At: ${search.place}`] : []),
    ...(files.length > 0 ? [`File${files.length > 1 ? 's' : ''}: ${files.join(', ')}`] : []),
    ...(features.length > 0 ? [`Feature${features.length > 1 ? 's' : ''}: ${features.join(', ')}`] : []),
    '',
    'How to see it',
    `1. Open ${site.address}${page.path} with the browser’s console open.`,
    `2. It says: ${search.text}`,
    '',
    'How it was found',
    `${plural(readings, 'reading')} of the page in ${browser}, ${search.lens}: it complains with ${names}, and does not without.`,
    ...(versionWords(search) ? [versionWords(search).trim()] : []),
    ...(alone ? ['It also complains with every other add-on of the page left out, so nothing else is needed.'] : []),
    ...(site.cms ? [`The site runs ${site.cms.name} ${site.cms.version}.`] : []),
  ]
  return lines.join('\n')
}
