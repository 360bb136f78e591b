import { Inject, Injectable } from '@nestjs/common'
import { Sequelize } from 'sequelize'
import { actionsKey, DEFAULT_STEPS } from '@unvelt/core'
import type { StepIdea, StepIdeas } from '@unvelt/contract'
import type { OnDemand } from '../on-demand/on-demand.model.js'
import { OnDemandService } from '../on-demand/on-demand.service.js'
import { ProblemError } from '../problem/problem.error.js'
import type { SiteRow } from '../site/site.model.js'
import { stepView } from '../step/step.service.js'
import { pagesToLookAt } from './pages-to-look-at.js'

/** So often it went through, with what it is to bring. */
const EACH_TIME = 2

/** Has the pages of a site looked at for steps that they suggest. */
@Injectable()
export class StepIdeaService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    private readonly onDemand: OnDemandService,
  ) {}

  async list(site: SiteRow): Promise<StepIdeas[]> {
    const rows = await this.onDemand.newest('ideas', { siteId: site.id, pageId: null })
    return rows.map((row) => view(row, site))
  }

  async start(site: SiteRow): Promise<StepIdeas> {
    const pages = await pagesToLookAt(this.sequelize, site.id)
    if (pages.length === 0) throw new ProblemError(409, 'There is no public page to look at.')
    const busy = 'The pages of this site are being looked at already.'
    await this.onDemand.start('ideas', { siteId: site.id, pageId: null }, { pages }, busy)
    return (await this.list(site))[0]!
  }

  async stop(site: SiteRow): Promise<StepIdeas> {
    const [newest] = await this.onDemand.newest('ideas', { siteId: site.id, pageId: null })
    if (newest?.state !== 'waiting') throw new ProblemError(409, 'The pages are not being looked at.')
    await this.onDemand.stop(newest.id)
    return (await this.list(site))[0]!
  }
}

function view({ id, state, failure, takenAt, wish, taken }: OnDemand<'ideas'>, { steps }: SiteRow): StepIdeas {
  const known = new Set((steps ?? DEFAULT_STEPS).map(({ actions }) => actionsKey(actions)))
  const open = taken.ideas.filter(({ step }) => !known.has(actionsKey(step.actions)))
  return {
    id,
    state,
    failure,
    takenAt: takenAt.toISOString(),
    pages: wish.pages.length,
    looked: taken.looked,
    ideas: open.map(({ step, path, device, kinds, through, why }): StepIdea => ({
      step: stepView({ ...step, ...(kinds.length === 1 && { kind: kinds[0]! }) }),
      path,
      device,
      kinds,
      works: through === null ? null : through >= EACH_TIME,
      why: why ?? null,
    })),
    failed: taken.failed,
  }
}
