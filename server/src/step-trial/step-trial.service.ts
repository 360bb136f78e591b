import { Injectable } from '@nestjs/common'
import type { StepTrial, StepTrialRequest } from '@unvelt/contract'
import type { OnDemand } from '../on-demand/on-demand.model.js'
import { OnDemandService } from '../on-demand/on-demand.service.js'
import { ProblemError } from '../problem/problem.error.js'
import type { SiteRow } from '../site/site.model.js'
import { siteAddress } from '../site-http/site-address.js'
import { stepOf } from '../step/step.service.js'

const TIMES = 2
const MOST_LISTED = 10

/** Has steps played on a page of the live site, so that it is known whether they work before anything rests on them. */
@Injectable()
export class StepTrialService {
  constructor(private readonly onDemand: OnDemandService) {}

  async start(site: SiteRow, { path, device = 'desk', times = TIMES, steps }: StepTrialRequest): Promise<StepTrial> {
    try {
      siteAddress(site.address, path)
    } catch (error) {
      throw new ProblemError(422, (error as Error).message)
    }
    await this.onDemand.start(
      'steps',
      { siteId: site.id, pageId: null },
      { path, device, times, steps: steps.map(stepOf) },
      'Steps are being played on this site already.',
    )
    return (await this.list(site))[0]!
  }

  async list({ id }: SiteRow): Promise<StepTrial[]> {
    return (await this.onDemand.newest('steps', { siteId: id, pageId: null }, MOST_LISTED)).map(view)
  }
}

const view = ({ id, wish, taken, state, failure }: OnDemand<'steps'>): StepTrial => ({
  id,
  path: wish.path,
  device: wish.device,
  times: wish.times,
  state,
  failure,
  taken: taken.map((time) => time.map(({ name, outcome, why = null }) => ({ name, outcome, why }))),
})
