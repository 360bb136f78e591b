import { Controller, Param, Sse, type MessageEvent } from '@nestjs/common'
import { concatMap, filter, from, interval, map, merge, takeUntil, type Observable } from 'rxjs'
import { SiteEvents, type News } from '../events/site-events.js'
import { IdPipe } from '../problem/id.pipe.js'
import { PreviewService } from '../preview/preview.service.js'
import { RehearsalService } from '../rehearsal/rehearsal.service.js'
import { DeploymentService } from '../rule/deployment/deployment.service.js'
import { SweepService } from '../sweep/sweep.service.js'

const KEEP_ALIVE_MS = 20_000

/** What goes on at a site, told as it happens. */
@Controller()
export class FollowController {
  constructor(
    private readonly sweeps: SweepService,
    private readonly deployments: DeploymentService,
    private readonly rehearsals: RehearsalService,
    private readonly previews: PreviewService,
    private readonly events: SiteEvents,
  ) {}

  /** Every change of every sweep, of every rehearsal, retirement and change of the live rules. */
  @Sse('sites/:site/events')
  follow(@Param('site', IdPipe) siteId: number): Observable<MessageEvent> {
    const changes = this.events.news.pipe(
      filter((news) => news.siteId === siteId),
      // Of what is gone by the time that it is told of, nothing is left to say, and the line stays.
      concatMap((news) => from(this.messageOf(news).catch(() => goneOf(news)))),
    )
    // Without a word now and then, proxies and browsers take the line for dead.
    const alive = interval(KEEP_ALIVE_MS).pipe(map((): MessageEvent => ({ type: 'alive', data: '' })))
    return merge(changes, alive).pipe(takeUntil(this.events.ended))
  }

  private async messageOf(news: News): Promise<MessageEvent> {
    if ('sweepId' in news) return { type: 'sweep', data: await this.sweeps.view(await this.sweeps.get(news.sweepId)) }
    if ('rehearsalId' in news) return { type: 'rehearsal', data: await this.rehearsals.get(news.rehearsalId) }
    if ('previewId' in news) {
      const preview = this.previews.current(news.previewId)
      return preview ? { type: 'preview', data: preview } : { type: 'alive', data: '' }
    }
    if ('retirementId' in news) return { type: 'retirement', data: { id: news.retirementId } }
    return { type: 'deployment', data: await this.deployments.get(news.deploymentId) }
  }
}

const goneOf = (news: News): MessageEvent =>
  'sweepId' in news ? { type: 'sweep-gone', data: { id: news.sweepId } } : { type: 'alive', data: '' }
