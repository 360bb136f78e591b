import type { PageRequest } from '@unvelt/contract'

/** Why this payer pays, as a sentence. */
export function evidenceWords({ evidence, because }: Pick<PageRequest, 'evidence' | 'because'>): string {
  switch (evidence) {
    case 'register':
      return 'The site’s register names this file.'
    case 'prefix':
      return `Lies in the add-on’s folder ${because}.`
    case 'pattern':
      return `Fits your pattern ${because}.`
    case 'inline':
      return `Asked for by inline code ${because}.`
    case 'initiator':
      return `Brought in by ${because}.`
    case 'outsider':
      return `Comes from ${because}.`
    case 'folder':
      return because === 'the page itself' ? 'The page itself.' : `Lies in ${because}.`
    default:
      return 'Nobody could be charged.'
  }
}
