import type { Step, StepAction } from './step.js'

/** A place in a recording and what was expected there. */
export interface RecordingProblem {
  /** JSON Pointer (RFC 6901). */
  at: string
  expected: string
}

/** What a recorder notes beside what was done, and what is only about the browser. */
const PASSED_OVER = new Set([
  'setViewport',
  'navigate',
  'keyUp',
  'hover',
  'waitForExpression',
  'emulateNetworkConditions',
  'close',
])
const MOST_ACTIONS = 50
const LONGEST_TEXT = 500

/**
 * Reads a user flow as browsers' developer tools save it (JSON: a title, and steps with a type and several selectors each).
 * What is left is what a visitor did on one page, and what is waited for is what is expected. Of keys only Enter in a field counts:
 * it may send a form, and the recording is taken for one that does.
 */
export function readRecording(
  value: unknown,
): { title: string; sends: boolean; actions: StepAction[] } | { problems: RecordingProblem[] } {
  if (!isRecord(value) || !Array.isArray(value.steps))
    return { problems: [{ at: '/steps', expected: 'a list, as a browser’s recorder saves it' }] }
  const actions: StepAction[] = []
  const problems: RecordingProblem[] = []
  value.steps.forEach((step: unknown, n) => {
    const at = `/steps/${n}`
    const read = isRecord(step) ? readStep(step, at, actions.at(-1)) : { at, expected: 'an object' }
    if (read === null) return
    if ('expected' in read) problems.push(read)
    // Of many scrolls in a row one is enough: it goes through the whole page.
    else if (read.do !== 'scroll' || actions.at(-1)?.do !== 'scroll') actions.push(read)
  })
  if (problems.length > 0) return { problems }
  if (actions.length === 0) return { problems: [{ at: '/steps', expected: 'something that was pressed or typed' }] }
  if (actions.length > MOST_ACTIONS)
    return { problems: [{ at: '/steps', expected: `at most ${MOST_ACTIONS} actions` }] }
  return {
    title: typeof value.title === 'string' ? value.title.slice(0, 100) : '',
    sends: actions.some(({ do: does }) => does === 'press'),
    actions,
  }
}

function readStep(
  step: Record<string, unknown>,
  at: string,
  before: StepAction | undefined,
): StepAction | RecordingProblem | null {
  const { type } = step
  if (typeof type === 'string' && PASSED_OVER.has(type)) return null
  if (type === 'scroll') return { do: 'scroll' }
  if (type === 'keyDown') return step.key === 'Enter' && before?.do === 'type' ? { do: 'press', at: before.at } : null
  if (type === 'waitForElement' && step.visible === false) return null
  if (type !== 'click' && type !== 'doubleClick' && type !== 'change' && type !== 'waitForElement')
    return { at: `${at}/type`, expected: 'click, change, scroll or waitForElement' }
  if (Array.isArray(step.frame) && step.frame.length > 0)
    return { at: `${at}/frame`, expected: 'something done on the page itself, and not within a frame' }
  const selector = roleSelector(step.selectors) ?? cssSelector(step.selectors)
  if (selector === null)
    return { at: `${at}/selectors`, expected: 'a CSS selector among them, or a name with its role' }
  if (type === 'waitForElement') {
    const text = isRecord(step.properties) ? step.properties.textContent : undefined
    const [said] = isRecord(step.attributes) ? Object.entries(step.attributes) : []
    if (said && typeof said[1] === 'string' && isAttribute(said[0]))
      return { do: 'expect', at: selector, attribute: said[0], text: said[1].slice(0, LONGEST_TEXT) }
    return { do: 'expect', at: selector, ...(typeof text === 'string' && { text: text.slice(0, LONGEST_TEXT) }) }
  }
  if (type !== 'change') return { do: 'click', at: selector }
  if (typeof step.value !== 'string') return { at: `${at}/value`, expected: 'a text' }
  return { do: 'type', at: selector, text: step.value.slice(0, LONGEST_TEXT) }
}

/** Names that an attribute can have (HTML, 13.1.2.3), as far as anybody uses them. */
export const isAttribute = (name: string): boolean => /^[A-Za-z_][\w:.-]{0,99}$/.test(name)

/** A control by role and name, as recorders write it: `aria/Send[role="button"]`. */
const BY_ROLE = /^aria\/(.+)\[role="([a-z]+)"\]$/s

function roleSelector(selectors: unknown): string | null {
  if (!Array.isArray(selectors)) return null
  for (const one of selectors as unknown[]) {
    const list: unknown[] = Array.isArray(one) ? one : [one]
    const found = list.length === 1 && typeof list[0] === 'string' ? BY_ROLE.exec(list[0]) : null
    if (found) return roleAndName(found[2]!, found[1]!).slice(0, LONGEST_TEXT)
  }
  return null
}

/** How steps name a control by what people call it. */
export const roleAndName = (role: string, name: string): string => `role=${role}[name=${JSON.stringify(name)}]`

/** Recorders give several ways to find an element, each a list for nested frames; the first plain CSS selector does. */
function cssSelector(selectors: unknown): string | null {
  if (!Array.isArray(selectors)) return null
  for (const one of selectors as unknown[]) {
    const list: unknown[] = Array.isArray(one) ? one : [one]
    const [selector] = list
    if (
      list.length === 1 &&
      typeof selector === 'string' &&
      selector !== '' &&
      !/^(aria|xpath|pierce|text)\//.test(selector)
    )
      return selector.slice(0, LONGEST_TEXT)
  }
  return null
}

const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

/**
 * A step as browsers' developer tools save what was recorded in them, to be played there. What it fills is nothing that they know,
 * and is left out.
 * @param url The page that it is done on.
 */
export function writeRecording({ name, actions }: Pick<Step, 'name' | 'actions'>, url: string): object {
  const target = { target: 'main' }
  const steps = actions.flatMap((action): object[] => {
    const selectors = 'at' in action ? [[recorderSelector(action.at)]] : []
    switch (action.do) {
      case 'scroll':
        return [{ type: 'scroll', ...target, x: 0, y: 1_000_000 }]
      case 'click':
        return [{ type: 'click', ...target, selectors, offsetX: 1, offsetY: 1 }]
      case 'type':
      case 'choose':
        return [{ type: 'change', ...target, selectors, value: action.text }]
      case 'press':
        return [
          { type: 'keyDown', ...target, key: 'Enter' },
          { type: 'keyUp', ...target, key: 'Enter' },
        ]
      case 'expect': {
        const { text, attribute } = action
        const properties =
          attribute !== undefined
            ? { attributes: { [attribute]: text ?? '' } }
            : text !== undefined && { properties: { textContent: text } }
        return [{ type: 'waitForElement', ...target, selectors, visible: true, ...properties }]
      }
      case 'fill':
        return []
    }
  })
  return { title: name, steps: [{ type: 'navigate', url }, ...steps] }
}

const ROLE = /^role=([a-z]+)\[name=("(?:[^"\\]|\\.)*")\]$/s

function recorderSelector(at: string): string {
  const found = ROLE.exec(at)
  return found ? `aria/${JSON.parse(found[2]!) as string}[role="${found[1]}"]` : at
}
