import { Injectable } from '@nestjs/common'
import { BY_ITSELF, DEFAULT_STEPS, readRecording, type Step, type StepAction } from '@unvelt/core'
import type { SiteStep, SiteSteps, StepRecording } from '@unvelt/contract'
import { ProblemError } from '../problem/problem.error.js'
import type { SiteRow } from '../site/site.model.js'

/** What is done on the pages of a site after their timing. */
@Injectable()
export class StepService {
  list({ steps }: SiteRow): SiteSteps {
    return { steps: (steps ?? DEFAULT_STEPS).map(stepView), standard: steps === null }
  }

  async change(site: SiteRow, steps: readonly SiteStep[]): Promise<SiteSteps> {
    const names = new Set<string>([BY_ITSELF])
    steps.forEach(({ name }, n) => {
      const message = `There is a step called ${name} already.`
      if (names.has(name)) throw new ProblemError(422, message, [{ field: `steps/${n}/name`, message }])
      names.add(name)
    })
    await site.update({ steps: steps.map(stepOf) })
    return this.list(site)
  }

  /** Puts back what was there before anybody changed it. */
  async forget(site: SiteRow): Promise<SiteSteps> {
    await site.update({ steps: null })
    return this.list(site)
  }

  /** Takes a recording in as one more step, with all that was done in it. */
  async takeIn(site: SiteRow, { name, kind, recording }: StepRecording): Promise<SiteSteps> {
    const read = readRecording(recording)
    if ('problems' in read) {
      const [{ at, expected }] = read.problems as [(typeof read.problems)[0]]
      const message = `The recording can’t be read at ${at}: expected ${expected}. Nothing was taken in.`
      throw new ProblemError(422, message, [{ field: `recording${at}`, message }])
    }
    const { steps } = this.list(site)
    const wanted = (name?.trim() || read.title || 'recorded').slice(0, 56)
    const taken = new Set([BY_ITSELF, ...steps.map((step) => step.name)])
    let given = wanted
    for (let n = 2; taken.has(given); n++) given = `${wanted} ${n}`
    const { actions, sends } = read
    return this.change(site, [...steps, { name: given, kind: kind ?? null, ...(sends && { sends }), actions }])
  }
}

export const stepView = ({ name, kind, sends, actions }: Step): SiteStep => ({
  name,
  kind: kind ?? null,
  ...(sends && { sends }),
  actions: [...actions],
})

export const stepOf = ({ name, kind, sends, actions }: SiteStep): Step => ({
  name,
  ...(kind && { kind }),
  ...(sends && { sends }),
  actions: actions.map(({ do: does, at = '', text = '', attribute }): StepAction => {
    if (does === 'scroll') return { do: does }
    if (does === 'expect')
      return { do: does, at, ...(text !== '' && { text }), ...(attribute !== undefined && { attribute }) }
    return does === 'type' || does === 'choose' ? { do: does, at, text } : { do: does, at }
  }),
})
