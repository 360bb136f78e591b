/**
 * One thing that a visitor does on a page. `at` is a CSS selector, or names a control as people do, `role=button[name="Send"]`
 * by WAI-ARIA; the first element in sight that matches is meant.
 */
export type StepAction =
  | { do: 'scroll' }
  | { do: 'click'; at: string }
  | { do: 'type'; at: string; text: string }
  /** Takes the entry of a list that is called so. */
  | { do: 'choose'; at: string; text: string }
  /** Presses Enter in a field. */
  | { do: 'press'; at: string }
  /** Types into every empty field of a form, and sends nothing. */
  | { do: 'fill'; at: string }
  /**
   * Nothing is done; the step fails where it is not seen, with that text in it where one is named. With an attribute, the step fails
   * where nothing that is seen has it, and the text is what it says, whole.
   */
  | { do: 'expect'; at: string; text?: string; attribute?: string }

/** A recorded action, or several in a row, on pages of one kind; on all pages where no kind is named. */
export interface Step {
  name: string
  kind?: string
  /** It sends a form, and so is taken in rehearsals only. */
  sends?: boolean
  actions: StepAction[]
}

/** What the page did by itself once it was quiet is kept under this name. */
export const BY_ITSELF = 'by itself'

/**
 * What visitors commonly do. None of them sends a form but the last, which fills the measuring browser's own basket; it
 * comes last since it may lead to another page.
 */
export const DEFAULT_STEPS: readonly Step[] = [
  { name: 'scroll', actions: [{ do: 'scroll' }] },
  {
    name: 'open the menu',
    actions: [
      {
        do: 'click',
        // Only what says of itself that it opens something: any other button might do anything.
        at: ':is(header, nav, [role=navigation], [role=banner]) :is([aria-expanded=false], [aria-haspopup], summary)',
      },
    ],
  },
  { name: 'search', actions: [{ do: 'type', at: 'input[type=search], input[name=q], input[name=s]', text: 'oak' }] },
  { name: 'fill the form', actions: [{ do: 'fill', at: 'main form:not([role=search]):not([action*=basket])' }] },
  {
    name: 'add to basket',
    kind: 'product',
    actions: [
      { do: 'click', at: 'form[action*=basket] [type=submit], form[action*=basket] button, form[action*=cart] button' },
    ],
  },
]

/** Steps that may be taken again and again on the live site. */
export const sendingNothing = (steps: readonly Step[]): Step[] => steps.filter(({ sends }) => !sends)

export const stepsFor = (kind: string, steps: readonly Step[] = DEFAULT_STEPS): Step[] =>
  steps.filter((step) => step.kind === undefined || step.kind === kind)

/** By this two rows of actions are the same, whatever order their keys are in. */
export const actionsKey = (
  actions: readonly { do: string; at?: string; text?: string; attribute?: string }[],
): string => JSON.stringify(actions.map(({ do: does, at, text, attribute }) => [does, at, text, attribute]))
