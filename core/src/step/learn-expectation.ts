import { placeOf } from './suggest-steps.js'
import type { Step, StepAction } from './step.js'

/** What can be reached on a page, as `role: name`, and what it says, as `selector: text`. */
export interface SeenThen {
  controls: readonly string[]
  texts: readonly string[]
}

/** A longer name is a text of its own, and is soon another one. */
const LONGEST_NAME = 80
const HAS_FIGURE = /\d/
/** Roles of what is there to be followed or taken, rather than filled. */
const LEADS_ON = new Set(['link', 'option', 'button', 'menuitem'])
const IS_ROLE = /^role=/

/**
 * A step that expects what it was seen to bring. Of one that sends something that is what the page says then. Of any other a
 * control that can be reached only once it is done: what stood there before with another figure in it comes first (a basket's
 * count), then what says what was typed, then what leads on, and names without a figure before others, since figures are soon
 * others. Where nothing new can be reached, what was opened is to say that it is.
 * @param opens What the step presses says of itself that it opens something.
 */
export function withExpectation(step: Step, before: SeenThen, after: SeenThen, opens: boolean): Step {
  if (step.actions.some((action) => action.do === 'expect')) return step
  const expected = (step.sends ? saidThen(before, after) : null) ?? reachedThen(step, before, after)
  if (expected) return withLast(step, expected)
  const [first] = step.actions
  if (opens && first?.do === 'click' && IS_ROLE.test(first.at))
    return withLast(step, { do: 'expect', at: first.at, attribute: 'aria-expanded', text: 'true' })
  return step
}

function saidThen(before: SeenThen, after: SeenThen): StepAction | null {
  const known = new Set(before.texts)
  const came = after.texts.filter((text) => !known.has(text)).map(parted)
  const said = came.find(([, text]) => !HAS_FIGURE.test(text)) ?? came[0]
  return said ? { do: 'expect', at: said[0], text: said[1] } : null
}

function reachedThen({ actions }: Step, before: SeenThen, after: SeenThen): StepAction | null {
  const known = new Set(before.controls)
  const came = after.controls.filter((control) => !known.has(control)).map(parted)
  const fit = came.map(([role, name]) => ({ role, name })).filter(({ name }) => name.length <= LONGEST_NAME)
  const typed = actions.flatMap((action) => (action.do === 'type' ? [action.text.toLowerCase()] : []))
  const expected =
    fit.find(({ name }) => grew(name, before.controls)) ??
    fit.find(({ role, name }) => LEADS_ON.has(role) && typed.some((text) => name.toLowerCase().includes(text))) ??
    fit.find(({ role, name }) => LEADS_ON.has(role) && !HAS_FIGURE.test(name)) ??
    fit.find(({ name }) => !HAS_FIGURE.test(name)) ??
    fit[0]
  return expected ? { do: 'expect', at: placeOf(expected) } : null
}

/** Whether a name says something that stood there before with another figure in it. */
function grew(name: string, before: readonly string[]): boolean {
  const shape = (text: string) => text.replace(/\d+/g, '#')
  return HAS_FIGURE.test(name) && before.some((control) => shape(parted(control)[1]) === shape(name))
}

/** What stands before the first colon with a space behind it, and what stands behind that. */
function parted(told: string): [before: string, after: string] {
  const at = told.indexOf(': ')
  return [told.slice(0, at), told.slice(at + 2)]
}

const withLast = (step: Step, action: StepAction): Step => ({ ...step, actions: [...step.actions, action] })
