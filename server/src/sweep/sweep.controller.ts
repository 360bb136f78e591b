import { Body, Controller, Get, HttpCode, Param, ParseIntPipe, Post, Sse, type MessageEvent } from '@nestjs/common'
import { concatMap, filter, from, interval, map, merge, type Observable } from 'rxjs'
import { Sweep, SweepPages, SweepRequest } from '@unvelt/contract'
import { SiteEvents } from '../events/site-events.js'
import { Answers } from '../openapi/answers.js'
import { SiteService } from '../site/site.service.js'
import { SweepService } from './sweep.service.js'

/** The version before any rule was put. */
const NO_RULES = 0
const KEEP_ALIVE_MS = 20_000

@Controller()
export class SweepController {
  constructor(
    private readonly sites: SiteService,
    private readonly sweeps: SweepService,
    private readonly events: SiteEvents,
  ) {}

  @Post('sites/:site/sweeps')
  @HttpCode(201)
  @Answers(Sweep, { status: 201 })
  async start(
    @Param('site', ParseIntPipe) siteId: number,
    @Body() { lensIds, withoutRules, ...request }: SweepRequest,
  ): Promise<Sweep> {
    const site = await this.sites.get(siteId)
    await this.sweeps.refuseWhileRunning(siteId)
    await this.sites.refreshIfReachable(site)
    const [first] = await this.sweeps.startAll(site, lensIds ?? [undefined], {
      purpose: 'survey',
      ...request,
      ...(withoutRules && { variants: [{ name: 'live', rules: NO_RULES }] }),
    })
    return this.sweeps.view(first!)
  }

  /** What such a sweep would read, through each of its lenses. */
  @Post('sites/:site/sweeps/preview')
  @HttpCode(200)
  @Answers(SweepPages, { list: true })
  async preview(
    @Param('site', ParseIntPipe) siteId: number,
    @Body() { lensIds, pageIds, kinds, sample }: SweepRequest,
  ): Promise<SweepPages[]> {
    await this.sites.get(siteId)
    return this.sweeps.preview(siteId, lensIds ?? [undefined], {
      ...(pageIds && { pageIds }),
      ...(kinds && { kinds }),
      ...(sample && { sample }),
    })
  }

  @Get('sites/:site/sweeps')
  @Answers(Sweep, { list: true })
  async list(@Param('site', ParseIntPipe) siteId: number): Promise<Sweep[]> {
    await this.sites.get(siteId)
    return this.sweeps.list(siteId)
  }

  @Get('sweeps/:sweep')
  @Answers(Sweep)
  async get(@Param('sweep', ParseIntPipe) id: number): Promise<Sweep> {
    return this.sweeps.view(await this.sweeps.get(id))
  }

  @Post('sweeps/:sweep/cancel')
  @HttpCode(200)
  @Answers(Sweep)
  async cancel(@Param('sweep', ParseIntPipe) id: number): Promise<Sweep> {
    await this.sweeps.cancel(await this.sweeps.get(id))
    return this.sweeps.view(await this.sweeps.get(id))
  }

  @Post('sweeps/:sweep/pause')
  @HttpCode(200)
  @Answers(Sweep)
  async pause(@Param('sweep', ParseIntPipe) id: number): Promise<Sweep> {
    await this.sweeps.pause(await this.sweeps.get(id))
    return this.sweeps.view(await this.sweeps.get(id))
  }

  @Post('sweeps/:sweep/resume')
  @HttpCode(200)
  @Answers(Sweep)
  async resume(@Param('sweep', ParseIntPipe) id: number): Promise<Sweep> {
    await this.sweeps.resume(await this.sweeps.get(id))
    return this.sweeps.view(await this.sweeps.get(id))
  }

  @Post('sweeps/:sweep/reread')
  @HttpCode(200)
  @Answers(Sweep)
  async reread(@Param('sweep', ParseIntPipe) id: number): Promise<Sweep> {
    await this.sweeps.rereadFailed(await this.sweeps.get(id))
    return this.sweeps.view(await this.sweeps.get(id))
  }

  /** Every change of every sweep of a site, as it happens. */
  @Sse('sites/:site/events')
  follow(@Param('site', ParseIntPipe) siteId: number): Observable<MessageEvent> {
    const changes = this.events.sweeps.pipe(
      filter((news) => news.siteId === siteId),
      concatMap((news) => from(this.sweeps.get(news.sweepId).then((row) => this.sweeps.view(row)))),
      map((sweep): MessageEvent => ({ type: 'sweep', data: sweep })),
    )
    // Without a word now and then, proxies and browsers take the line for dead.
    const alive = interval(KEEP_ALIVE_MS).pipe(map((): MessageEvent => ({ type: 'alive', data: '' })))
    return merge(changes, alive)
  }
}
