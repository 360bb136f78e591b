import type { SampleRequest, SweepRequest } from '@unvelt/contract'

/** Which pages a sweep is to read. */
export type Choice =
  | { which: 'all' }
  | { which: 'kinds'; kinds: string[] }
  | { which: 'hand'; ids: number[] }
  | { which: 'sitemap'; ids: number[] }
  | { which: 'sample'; sample: SampleRequest }

/** A choice as a sweep is asked for with it. */
export function requestOf(choice: Choice): Pick<SweepRequest, 'kinds' | 'pageIds' | 'sample'> {
  switch (choice.which) {
    case 'all':
      return {}
    case 'kinds':
      return { kinds: choice.kinds }
    case 'hand':
    case 'sitemap':
      return { pageIds: choice.ids }
    case 'sample':
      return { sample: choice.sample }
  }
}

/** Whether anything is chosen. */
export function isWhole(choice: Choice): boolean {
  switch (choice.which) {
    case 'all':
      return true
    case 'kinds':
      return choice.kinds.length > 0
    case 'hand':
    case 'sitemap':
      return choice.ids.length > 0
    case 'sample':
      return choice.sample.mostVisited + choice.sample.drawn > 0
  }
}
