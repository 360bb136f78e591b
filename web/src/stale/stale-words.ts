import type { StaleCauseView } from '@unvelt/contract'
import { dateTime } from '../figures/format.js'

/** What happened, as a sentence without its end. */
export function causeWords({ kind, name, from, to, pages }: StaleCauseView): string {
  switch (kind) {
    case 'rules':
      return `Rules: ${name}`
    case 'updated':
      return from && to ? `${name} went from ${from} to ${to}` : `${name} is of another version`
    case 'features':
      return `Other features of ${name} are switched on`
    case 'on':
      return `${name} was switched on, and may load anywhere`
    case 'off':
      return `${name} was switched off`
    case 'came':
      return `${name} was installed, and may load anywhere`
    case 'went':
      return `${name} was removed`
    case 'words':
      return pages === 1 ? 'Its words were changed' : 'Their words were changed'
  }
}

/** When and by whom, as far as anybody knows; empty else. */
export const whoWords = ({ at, by }: StaleCauseView): string =>
  [at && dateTime(at), by.length > 0 && `by ${by.join(', ')}`].filter(Boolean).join(', ')
