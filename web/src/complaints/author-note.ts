import type { CauseSearch, Page, Site, SmallerPage } from '@unvelt/contract'
import { plural } from '../figures/format.js'
import { GUARD_WORDS } from '../rehearsal/guard-words.js'
import { foundFeatures, foundFiles, readingsOf, versionWords } from './cause-words.js'

/** A longer page is sent along as a file. */
const LONGEST_PAGE = 4_000

/** A note for whoever wrote the guilty add-on, in plain text: all that they need to see it themselves. */
export function authorNote(
  search: CauseSearch,
  site: Pick<Site, 'address' | 'cms'>,
  page: Pick<Page, 'path'>,
  { browser, smallest }: { browser: string; smallest: Pick<SmallerPage, 'bytes' | 'html'> | null },
): string {
  if (search.guilty.length === 0) return ''
  const names = search.guilty.map(({ name, version }) => [name, version].filter(Boolean).join(' ')).join(' with ')
  const files = foundFiles(search)
  const features = foundFeatures(search)
  const { head, what, toSee, how } = (search.kind === 'guard' ? ofGuard : ofComplaint)(search, names)
  const lines = [
    head,
    '',
    what,
    ...(search.place ? [`At: ${search.place}`] : []),
    ...(files.length > 0 ? [`File${files.length > 1 ? 's' : ''}: ${files.join(', ')}`] : []),
    ...(features.length > 0 ? [`Feature${features.length > 1 ? 's' : ''}: ${features.join(', ')}`] : []),
    '',
    'How to see it',
    ...toSee(`${site.address}${page.path}`),
    '',
    'How it was found',
    `${plural(
      search.stages.reduce((sum, stage) => sum + readingsOf(stage), 0),
      'reading',
    )} of the page in ${browser}, ${search.lens}: ${how}`,
    ...(versionWords(search) ? [versionWords(search).trim()] : []),
    ...(!smallest || smallest.bytes === null
      ? []
      : smallest.html === null || smallest.html.length > LONGEST_PAGE
        ? ['The smallest page that shows it is attached.']
        : ['', 'The smallest page that shows it, at the same address:', '', smallest.html.trim(), '']),
    ...(site.cms ? [`The site runs ${site.cms.name} ${site.cms.version}.`] : []),
  ]
  return lines.join('\n')
}

interface Told {
  head: string
  what: string
  toSee(address: string): string[]
  how: string
}

function ofComplaint({ kind, text, stages, guilty }: CauseSearch, names: string): Told {
  const isAlone = stages[0]!.tries.some(({ changes, fails }) => fails && changes.length === guilty.length)
  return {
    head: `${names}: a page complains since it is there`,
    what: kind === 'errors' ? `Error: ${text}` : `Request without an answer: ${text}`,
    toSee: (address) => [`1. Open ${address} with the browser’s console open.`, `2. It says: ${text}`],
    how: `it complains with ${names}, and does not without.${
      isAlone ? '\nIt also complains with every other add-on of the page left out, so nothing else is needed.' : ''
    }`,
  }
}

function ofGuard({ guard, text, stages }: CauseSearch, names: string): Told {
  const isPutBack = stages.some(({ level, outcome }) => level === 'earlier' && outcome === 'found')
  return {
    head: `${names}: a page is not as it was before`,
    what: `${GUARD_WORDS[guard!].name}: ${text}`,
    toSee: (address) => [
      `1. Open ${address}.`,
      `2. Compare it with the same page ${isPutBack ? 'with the version before' : 'without it'}.`,
    ],
    how: `it is well ${isPutBack ? 'with the version before in its place' : `without ${names}`}, and not as it is.`,
  }
}
