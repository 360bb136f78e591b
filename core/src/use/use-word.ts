/** What is known of an add-on's use on a page. `unknown` wherever nothing could have told. */
export const USE_WORDS = ['used', 'works unseen', 'planned', 'not seen', 'unknown'] as const
export type UseWord = (typeof USE_WORDS)[number]

/** Who says that something is used: the site's connector, a reading, the maintainer, or what visitors do. */
export type UseSource = 'connector' | 'reading' | 'hand' | 'visitors'

/** One thing known of an add-on's use. */
export interface UseFact {
  source: UseSource
  word: Exclude<UseWord, 'unknown'>
  because: string
}

/** What is known of an add-on beyond one page, and decides whether silence means anything. */
export interface UseSight {
  /** The site says that it does its work, or did it, without showing anything. */
  works: 'unseen' | 'once' | null
  /** Content can only use it through blocks, and the site tells which content does. */
  hasBlocks: boolean
  /** All it does happens in the browser, where a reading can see it: nothing that it writes into the HTML is missed. */
  browserOnly: boolean
  /** Of the pages that the sweep looked at with steps, the share on which a reading has seen it in use. */
  seenShare: number
}

/** What is seen on most pages was rather missed on the others. */
const MOST_PAGES = 0.5

/** How a page was looked at. `steps` when actions followed the load. */
export interface PageLook {
  read: boolean
  steps: boolean
}

/**
 * The one word for an add-on on a page. The maintainer's own word stands above all; then any sign of use. Silence is
 * `not seen` only where a sign would have been noticed: by the connector for what is used through blocks; by a reading
 * with steps for what works in the browser alone and was seen on some other pages. All else is `unknown`.
 */
export function useWord(facts: readonly UseFact[], sight: UseSight, look: PageLook): UseWord {
  const byHand = facts.filter(({ source }) => source === 'hand').at(-1)
  if (byHand) return byHand.word
  if (facts.some(({ word }) => word === 'used')) return 'used'
  if (facts.some(({ word }) => word === 'planned')) return 'planned'
  if (sight.works) return 'works unseen'
  const contentTold = sight.hasBlocks
  const { browserOnly, seenShare } = sight
  const readingTold = browserOnly && seenShare > 0 && seenShare < MOST_PAGES && look.read && look.steps
  return contentTold || readingTold ? 'not seen' : 'unknown'
}
