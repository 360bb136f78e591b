import type { SiteStepAction } from '@unvelt/contract'

/** What is done, as it is told to somebody. */
export function actionWords({ do: does, at, text }: SiteStepAction): string {
  if (does === 'scroll') return 'scroll through the page'
  if (does === 'click') return `press ${at}`
  if (does === 'fill') return `fill ${at}, and send nothing`
  return `type “${text}” into ${at}`
}

export const DOES: [SiteStepAction['do'], string][] = [
  ['click', 'Press'],
  ['type', 'Type'],
  ['fill', 'Fill a form'],
  ['scroll', 'Scroll through'],
]

/** Why a selector finds nothing anywhere; the browser knows best. */
export function selectorProblem(selector: string): string | true {
  if (selector.trim() === '') return 'Say what is meant, as a CSS selector.'
  try {
    document.createDocumentFragment().querySelector(selector)
    return true
  } catch {
    return 'This is no CSS selector.'
  }
}
