import type { StepAction } from './step.js'

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
  'keyDown',
  'keyUp',
  'hover',
  'waitForElement',
  'waitForExpression',
  'emulateNetworkConditions',
  'close',
])
const MOST_ACTIONS = 50
const LONGEST_TEXT = 500

/**
 * Reads a user flow as browsers' developer tools save it (JSON: a title, and steps with a type and several selectors each).
 * What is left is what a visitor did on one page; a key that was pressed is left out, since it might send a form.
 */
export function readRecording(
  value: unknown,
): { title: string; actions: StepAction[] } | { problems: RecordingProblem[] } {
  if (!isRecord(value) || !Array.isArray(value.steps))
    return { problems: [{ at: '/steps', expected: 'a list, as a browser’s recorder saves it' }] }
  const actions: StepAction[] = []
  const problems: RecordingProblem[] = []
  value.steps.forEach((step: unknown, n) => {
    const at = `/steps/${n}`
    const read = isRecord(step) ? readStep(step, at) : { at, expected: 'an object' }
    if (read === null) return
    if ('expected' in read) problems.push(read)
    // Of many scrolls in a row one is enough: it goes through the whole page.
    else if (read.do !== 'scroll' || actions.at(-1)?.do !== 'scroll') actions.push(read)
  })
  if (problems.length > 0) return { problems }
  if (actions.length === 0) return { problems: [{ at: '/steps', expected: 'something that was pressed or typed' }] }
  if (actions.length > MOST_ACTIONS)
    return { problems: [{ at: '/steps', expected: `at most ${MOST_ACTIONS} actions` }] }
  return { title: typeof value.title === 'string' ? value.title.slice(0, 100) : '', actions }
}

function readStep(step: Record<string, unknown>, at: string): StepAction | RecordingProblem | null {
  const { type } = step
  if (typeof type === 'string' && PASSED_OVER.has(type)) return null
  if (type === 'scroll') return { do: 'scroll' }
  if (type !== 'click' && type !== 'doubleClick' && type !== 'change')
    return { at: `${at}/type`, expected: 'click, change or scroll' }
  if (Array.isArray(step.frame) && step.frame.length > 0)
    return { at: `${at}/frame`, expected: 'something done on the page itself, and not within a frame' }
  const selector = cssSelector(step.selectors)
  if (selector === null) return { at: `${at}/selectors`, expected: 'a CSS selector among them' }
  if (type !== 'change') return { do: 'click', at: selector }
  if (typeof step.value !== 'string') return { at: `${at}/value`, expected: 'a text' }
  return { do: 'type', at: selector, text: step.value.slice(0, LONGEST_TEXT) }
}

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
