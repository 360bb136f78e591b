import type { Locator, Page } from 'playwright-core'
import { BY_ITSELF, type Step, type RequestRecord, type StepAction, type StepRecord } from '@unvelt/core'
import { withinTime } from './within-time.js'
import type { QuietWatch } from './quiet.js'

/** How long the page is left to itself first, from the end of its quiet span on, for what it goes on doing unasked. */
const BY_ITSELF_MS = 1_000
/**
 * What a press sets off begins at once; after typing, pages commonly wait a moment for more of it. With anything under way, the
 * step lasts until that has ended, too.
 */
const QUIET_MS = 250
const QUIET_AFTER_TYPING_MS = 500
/** One action may take this long, and what it sets off may go on as long again. */
const ACTION_MS = 3_000
/** So many keys are pressed one by one, for whoever listens to keys; what comes before them in a long text is there at once. */
const MOST_KEYS = 16
/** A busy machine takes so long for a key. */
const KEY_MS = 250
const QUIET_AT_MOST_MS = 4_000
const LOOK_AGAIN_MS = 100
const MOST_FIELDS = 30

export interface StepTools {
  page: Page
  /** What was asked for since the last call. */
  takeRequests(): Promise<RequestRecord[]>
  newQuietWatch(quietMs: number): QuietWatch
  /** When the page's quiet span ended, by `performance.now()`. */
  quietSince: number
  /** Called once the page has been scrolled through, before anything on it is touched. */
  onScrolled(): Promise<void>
  /** Called after each step, once all is quiet again. */
  onStepped?(name: string, outcome: StepRecord['outcome'], why?: string): Promise<void>
  /** Goes back to the page where a step has led away from it; without it nothing more is done then. */
  goBack?(): Promise<void>
}

/** Does on the page what a visitor would, and keeps apart what each step brings. Stops where a step leads to another page. */
export async function takeSteps(tools: StepTools, steps: readonly Step[]): Promise<StepRecord[]> {
  const { page, takeRequests } = tools
  const records: StepRecord[] = []
  // It has been left to itself while it was asked for its figures.
  const left = tools.quietSince + BY_ITSELF_MS - performance.now()
  if (left > 0) await new Promise((resolve) => setTimeout(resolve, left))
  records.push({ name: BY_ITSELF, outcome: 'done', requests: await takeRequests() })
  const here = page.url()
  for (const [n, step] of steps.entries()) {
    const typing = step.actions.some((action) => action.do === 'type')
    const quiet = tools.newQuietWatch(typing ? QUIET_AFTER_TYPING_MS : QUIET_MS)
    let outcome: StepRecord['outcome'] = 'done'
    let why: string | undefined
    try {
      for (const [place, action] of step.actions.entries()) {
        // What an action sets off may bring what the next one is for.
        const patience = place === 0 ? 0 : PATIENCE_MS
        if (await act(page, action, patience)) continue
        outcome = 'not there'
        // A page without the thing has nothing to be done on; one that lost it on the way has failed.
        if (place > 0) throw new Error(`${nameOf(action)} is not there`)
        break
      }
    } catch (error) {
      outcome = 'failed'
      why = (error as Error).message.split('\n')[0]!.slice(0, 200)
    }
    // What is not there sets nothing off.
    if (outcome !== 'not there') await quiet.wait(QUIET_AT_MOST_MS)
    records.push({ name: step.name, outcome, ...(why !== undefined && { why }), requests: await takeRequests() })
    if (step.actions.some((action) => action.do === 'scroll')) await tools.onScrolled()
    await tools.onStepped?.(step.name, outcome, why)
    if (page.url() === here) continue
    if (!tools.goBack || n === steps.length - 1) break
    await tools.goBack()
    await takeRequests()
  }
  return records
}

/** Waited for, after something was done: an answer may come from the site first. */
const PATIENCE_MS = 4_000

/** What an action is for, as it is told to somebody. */
const nameOf = (action: StepAction) => ('at' in action ? action.at : 'the page')

async function act(page: Page, action: StepAction, patience: number): Promise<boolean> {
  const find = (at: string) => inSight(page.locator(at), patience)
  switch (action.do) {
    case 'scroll':
      await withinTime(ACTION_MS, page.evaluate(scrollThrough), 'The page did not scroll in time.')
      return true
    case 'click': {
      const target = await find(action.at)
      await target?.click({ timeout: ACTION_MS, noWaitAfter: true })
      return target !== null
    }
    case 'type': {
      const target = await find(action.at)
      if (!target) return false
      if (FILLED_AT_ONCE.has((await target.getAttribute('type')) ?? '')) await target.fill(action.text)
      else {
        const [head, tail] = [action.text.slice(0, -MOST_KEYS), action.text.slice(-MOST_KEYS)]
        await target.click({ timeout: ACTION_MS })
        await target.fill(head, { timeout: ACTION_MS })
        await target.pressSequentially(tail, { delay: 30, timeout: ACTION_MS + KEY_MS * tail.length })
      }
      return target !== null
    }
    case 'fill': {
      const form = await find(action.at)
      if (form) await fill(form)
      return form !== null
    }
    case 'choose': {
      const list = await find(action.at)
      await list?.selectOption({ label: action.text }, { timeout: ACTION_MS })
      return list !== null
    }
    case 'press': {
      const field = await find(action.at)
      await field?.press('Enter', { timeout: ACTION_MS, noWaitAfter: true })
      return field !== null
    }
    case 'expect': {
      const { at, text, attribute } = action
      if (attribute !== undefined) {
        if (await hasAttribute(page.locator(at), attribute, text)) return true
        throw new Error(`${at} has no ${attribute}${text === undefined ? '' : ` “${text}”`}`)
      }
      const all = text === undefined ? page.locator(at) : page.locator(at).filter({ hasText: text })
      // What is expected may well be on its way, also where nothing was done before.
      if (await inSight(all, PATIENCE_MS)) return true
      throw new Error(text === undefined ? `${at} is not seen` : `“${text}” is not seen in ${at}`)
    }
  }
}

/** Whether one of those that can be seen has an attribute, with a value where one is named, or has it soon. */
async function hasAttribute(all: Locator, name: string, value: string | undefined): Promise<boolean> {
  const until = performance.now() + PATIENCE_MS
  for (;;) {
    const count = Math.min(await all.count(), 20)
    for (let n = 0; n < count; n++) {
      const one = all.nth(n)
      const said = await one.getAttribute(name, { timeout: ACTION_MS }).catch(() => null)
      if (said !== null && (value === undefined || said === value) && (await one.isVisible())) return true
    }
    if (performance.now() >= until) return false
    await new Promise((resolve) => setTimeout(resolve, LOOK_AGAIN_MS))
  }
}

/** The first of those that match which a visitor can see, at once or within a time. */
async function inSight(all: Locator, patience: number): Promise<Locator | null> {
  const until = performance.now() + patience
  for (;;) {
    const count = Math.min(await all.count(), 20)
    for (let n = 0; n < count; n++) if (await all.nth(n).isVisible()) return all.nth(n)
    if (performance.now() >= until) return null
    await new Promise((resolve) => setTimeout(resolve, LOOK_AGAIN_MS))
  }
}

async function fill(form: Locator): Promise<void> {
  const fields = form.locator(
    'input:not([type=hidden]):not([type=submit]):not([type=button]):not([type=file]), textarea',
  )
  const count = Math.min(await fields.count(), MOST_FIELDS)
  for (let n = 0; n < count; n++) {
    const field = fields.nth(n)
    if (!(await field.isVisible()) || !(await field.isEditable().catch(() => false))) continue
    const type = (await field.getAttribute('type')) ?? 'text'
    const tick = type === 'checkbox' || type === 'radio'
    if (tick) await field.check({ timeout: ACTION_MS })
    else await field.fill(SAMPLES[type] ?? 'Oak', { timeout: ACTION_MS })
  }
}

/** Fields that browsers give a way of their own to be filled. */
const FILLED_AT_ONCE = new Set(['date', 'time', 'month', 'week', 'datetime-local', 'range', 'color'])

const SAMPLES: Record<string, string> = {
  email: 'visitor@example.test',
  number: '1',
  date: '2030-05-01',
  tel: '0000000',
  url: 'https://example.test/',
  time: '10:00',
  range: '1',
  color: '#557755',
}

/** Runs in the page: down in steps of most of a window, so that whatever waits to be seen is seen, and up again. */
async function scrollThrough(): Promise<void> {
  const step = innerHeight * 0.8
  for (let y = 0, n = 0; y < document.documentElement.scrollHeight && n < 25; y += step, n++) {
    scrollTo(0, y)
    await new Promise((resolve) => setTimeout(resolve, 60))
  }
  scrollTo(0, 0)
}
