import { Body, Controller, Get, HttpCode, Param, Post } from '@nestjs/common'
import { ReadNextAnswer, ReadNextRequest, Sweep, SweepPages, SweepRequest } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { KeptReady } from '../ready/kept-ready.js'
import { SiteService } from '../site/site.service.js'
import { SweepService } from './sweep.service.js'
import { IdPipe } from '../problem/id.pipe.js'

/** The version before any rule was put. */
const NO_RULES = 0

@Controller()
export class SweepController {
  constructor(
    private readonly sites: SiteService,
    private readonly sweeps: SweepService,
  ) {}

  @Post('sites/:site/sweeps')
  @HttpCode(201)
  @Answers(Sweep, { status: 201 })
  async start(
    @Param('site', IdPipe) siteId: number,
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
    @Param('site', IdPipe) siteId: number,
    @Body() { lensIds, pageIds, kinds, sample }: SweepRequest,
  ): Promise<SweepPages[]> {
    await this.sites.get(siteId)
    return this.sweeps.preview(siteId, lensIds ?? [undefined], {
      ...(pageIds && { pageIds }),
      ...(kinds && { kinds }),
      ...(sample && { sample }),
    })
  }

  // Whether anybody reads one that is under way is told by the clock.
  @Get('sites/:site/sweeps')
  @KeptReady<Sweep[]>((sweeps) => sweeps.every(({ status }) => status !== 'running'))
  @Answers(Sweep, { list: true })
  async list(@Param('site', IdPipe) siteId: number): Promise<Sweep[]> {
    await this.sites.get(siteId)
    return this.sweeps.list(siteId)
  }

  @Get('sweeps/:sweep')
  @Answers(Sweep)
  async get(@Param('sweep', IdPipe) id: number): Promise<Sweep> {
    return this.sweeps.view(await this.sweeps.get(id))
  }

  @Post('sweeps/:sweep/cancel')
  @HttpCode(200)
  @Answers(Sweep)
  async cancel(@Param('sweep', IdPipe) id: number): Promise<Sweep> {
    await this.sweeps.cancel(await this.sweeps.get(id))
    return this.sweeps.view(await this.sweeps.get(id))
  }

  @Post('sweeps/:sweep/pause')
  @HttpCode(200)
  @Answers(Sweep)
  async pause(@Param('sweep', IdPipe) id: number): Promise<Sweep> {
    await this.sweeps.pause(await this.sweeps.get(id))
    return this.sweeps.view(await this.sweeps.get(id))
  }

  @Post('sweeps/:sweep/resume')
  @HttpCode(200)
  @Answers(Sweep)
  async resume(@Param('sweep', IdPipe) id: number): Promise<Sweep> {
    await this.sweeps.resume(await this.sweeps.get(id))
    return this.sweeps.view(await this.sweeps.get(id))
  }

  @Post('sweeps/:sweep/reread')
  @HttpCode(200)
  @Answers(Sweep)
  async reread(@Param('sweep', IdPipe) id: number): Promise<Sweep> {
    await this.sweeps.rereadFailed(await this.sweeps.get(id))
    return this.sweeps.view(await this.sweeps.get(id))
  }

  /** Has pages that somebody looks at read before all that waits. */
  @Post('sweeps/:sweep/next')
  @HttpCode(200)
  @Answers(ReadNextAnswer)
  async next(@Param('sweep', IdPipe) id: number, @Body() { pageIds }: ReadNextRequest): Promise<ReadNextAnswer> {
    return { pages: await this.sweeps.readNext(await this.sweeps.get(id), pageIds) }
  }
}
