import type { Effect, Place } from '@unvelt/contract'

/** What an effect does, said to the maintainer. */
export const EFFECT_WORDS: Record<Effect, string> = {
  skip: 'not run by the site',
  'leave-out': 'files left out',
  hold: 'held back',
  order: 'loaded later',
  local: 'served by the own host',
  'system-font': 'system font instead',
  hint: 'connected early',
  keep: 'kept',
}

/** Where a rule holds, as the end of a sentence. */
export function placeWords(place: Place): string {
  switch (place.level) {
    case 'page':
      return `on ${place.path}`
    case 'set':
      return `on ${place.paths.length} pages`
    case 'path':
      return `on addresses like ${place.pattern}`
    case 'kind':
      return `on every page of kind ${place.kind}`
    case 'area':
      return place.area === 'public' ? 'on all public pages' : 'in the back office'
    case 'everywhere':
      return 'everywhere'
  }
}
