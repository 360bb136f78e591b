/** How many days ago the arboretum's people installed each add-on. What is not named was there from the beginning. */
const DAYS: Record<string, number> = {
  'festival-programme': 12,
  'ribbon-share': 33,
  'sky-reports': 38,
  'garden-badge': 45,
  'reel-frames': 57,
  'picture-wall': 61,
  'related-reads': 93,
  'page-tally': 98,
  tagbasket: 104,
  'seek-helper': 260,
  'code-colours': 420,
  'leaf-press': 500,
  'walk-almanac': 610,
  'grove-builder': 700,
}
const FROM_THE_BEGINNING = 1_460

export const installedDaysAgo = (slug: string): number => DAYS[slug] ?? FROM_THE_BEGINNING
