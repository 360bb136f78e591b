import type { SiteStepAction } from '@unvelt/contract'

/** What is done, as it is told to somebody. */
export function actionWords({ do: does, at, text, attribute }: SiteStepAction): string {
  const what = placeWords(at)
  switch (does) {
    case 'scroll':
      return 'scroll through the page'
    case 'click':
      return `press ${what}`
    case 'fill':
      return `fill ${what}, and send nothing`
    case 'choose':
      return `choose “${text}” in ${what}`
    case 'press':
      return `press Enter in ${what}`
    case 'expect':
      if (attribute !== undefined) return `expect ${what} to have ${attribute}${text ? ` “${text}”` : ''}`
      return text ? `expect “${text}” in ${what}` : `expect ${what} to be seen`
    case 'type':
      return `type “${text}” into ${what}`
  }
}

export const DOES: [SiteStepAction['do'], string][] = [
  ['click', 'Press'],
  ['type', 'Type'],
  ['choose', 'Choose'],
  ['press', 'Press Enter'],
  ['expect', 'Expect'],
  ['fill', 'Fill a form'],
  ['scroll', 'Scroll through'],
]

const ROLE = /^role=([a-z]+)(?:\[name=("(?:[^"\\]|\\.)*")\])?$/s

/** What is meant, as people say it where it is named by role and name. */
export function placeWords(at = ''): string {
  const found = ROLE.exec(at)
  if (!found) return at
  const [, role, name] = found
  return name === undefined ? `the ${role}` : `the ${role} “${JSON.parse(name) as string}”`
}

/** Why a selector finds nothing anywhere; the browser knows best. */
export function selectorProblem(selector: string): string | true {
  if (selector.trim() === '') return 'Say what is meant, as a CSS selector.'
  if (selector.startsWith('role='))
    return ROLE.test(selector.trim()) || 'Expected a role and a name, as in role=button[name="Send"].'
  try {
    document.createDocumentFragment().querySelector(selector)
    return true
  } catch {
    return 'This is no CSS selector.'
  }
}
