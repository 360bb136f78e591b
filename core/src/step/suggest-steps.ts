import type { NamedControl, OfferedField, OfferedForm, PageOffers } from './page-offers.js'
import type { Step, StepAction } from './step.js'

/** Of one page so many controls are opened: a page of forty questions is no forty steps. */
const MOST_OPENED = 4
const MOST_FORMS = 3
const MOST_FILLED = 12
const LONGEST_NAME = 60
const DEFAULT_WORD = 'oak'
const IS_BASKET = /basket|cart/i
const IS_SEARCH = /search|\bq\b|\bs\b/i
/** What a field is given by its type; anything else gets a word. */
const SAMPLES: Readonly<Record<string, string>> = {
  email: 'visitor@example.test',
  number: '1',
  tel: '0000000',
  url: 'https://example.test/',
  date: '2030-05-01',
  time: '10:00',
}
/** Where nothing may be written by itself. */
const NOT_FILLED = new Set(['password', 'file', 'hidden', 'submit', 'button', 'reset', 'image'])

/** The place of an action, by role and name. */
export const placeOf = ({ role, name }: NamedControl): string => `role=${role}[name=${JSON.stringify(name)}]`

/**
 * Steps that a page's offers lead to: what opens is opened, what searches is searched with, what is filled is sent, and what people
 * come for is seen. They expect nothing yet where that is to be learnt from what comes (`withExpectation`).
 * @param siteName Its words are on every page, and so nothing to search for.
 */
export function suggestSteps({ shut, forms, parts, words }: PageOffers, siteName = ''): Step[] {
  const shared = siteName.toLowerCase()
  const word = words.find((one) => !shared.includes(one)) ?? DEFAULT_WORD
  const opened = distinct(shut)
    .slice(0, MOST_OPENED)
    .map((control): Step => ({ name: named('open', control.name), actions: [{ do: 'click', at: placeOf(control) }] }))
  const seen = parts.map(({ at, what }): Step => ({ name: named('see', what), actions: [{ do: 'expect', at }] }))
  const sent = forms.slice(0, MOST_FORMS).flatMap((form) => stepsOf(form, word))
  // What leads to another page comes last.
  return [...seen, ...opened, ...sent]
}

function stepsOf(form: OfferedForm, word: string): Step[] {
  const { name, method, action, fields, submit } = form
  const search = method === 'get' ? fields.find(isSearch(form)) : undefined
  if (search)
    return [
      {
        name: named('search for', word),
        actions: [
          { do: 'type', at: search.at, text: word },
          { do: 'press', at: search.at },
        ],
      },
    ]
  if (submit === null) return []
  const press: StepAction = { do: 'click', at: submit }
  // A basket is the measuring browser's own, and is filled by the standard steps as well.
  if (method === 'post' && IS_BASKET.test(action)) return [{ name: named('put in', name), actions: [press] }]
  const filled = fields.filter(({ type }) => !NOT_FILLED.has(type)).slice(0, MOST_FILLED)
  if (method === 'get' || filled.length === 0 || fields.some(({ type }) => type === 'password')) return []
  return [{ name: named('send', name), sends: true, actions: [...filled.flatMap(fill), press] }]
}

const isSearch =
  ({ action }: OfferedForm) =>
  ({ type, at }: OfferedField) =>
    type === 'search' || (type === 'text' && (IS_SEARCH.test(at) || IS_SEARCH.test(action)))

function fill({ at, type, required, entries }: OfferedField): StepAction[] {
  if (type === 'checkbox' || type === 'radio') return required ? [{ do: 'click', at }] : []
  if (type === 'select') return entries?.[0] === undefined ? [] : [{ do: 'choose', at, text: entries[0] }]
  return [{ do: 'type', at, text: SAMPLES[type] ?? 'Oak' }]
}

const named = (doing: string, what: string) => {
  const name = `${doing} ${what.replace(/\s+/g, ' ').trim()}`
  return name.length > LONGEST_NAME ? `${name.slice(0, LONGEST_NAME - 1)}…` : name
}

const distinct = (controls: readonly NamedControl[]): NamedControl[] => [
  ...new Map(controls.filter(({ name }) => name !== '').map((control) => [placeOf(control), control])).values(),
]
