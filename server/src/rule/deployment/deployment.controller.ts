import { Body, Controller, Get, HttpCode, Param, Post, Query } from '@nestjs/common'
import { Deployment, PutLiveRequest, RulesAtSite, RulesAtSiteRequest, TakeBackQuery } from '@unvelt/contract'
import { KeptReady } from '../../ready/kept-ready.js'
import { Answers } from '../../openapi/answers.js'
import { IdPipe, WholePipe } from '../../problem/id.pipe.js'
import { SiteService } from '../../site/site.service.js'
import { DeploymentService } from './deployment.service.js'

/** Changes of the live rules. They are begun here and carried on by a job; how far they are is told as they go. */
@Controller()
export class DeploymentController {
  constructor(
    private readonly sites: SiteService,
    private readonly deployments: DeploymentService,
  ) {}

  @Post('sites/:site/rules/put-live')
  @HttpCode(200)
  @Answers(Deployment)
  async putLive(@Param('site', IdPipe) siteId: number, @Body() request: PutLiveRequest): Promise<Deployment> {
    return this.deployments.putDrafts(await this.sites.get(siteId), request)
  }

  @Post('sites/:site/rules/take-back/:version')
  @HttpCode(200)
  @Answers(Deployment)
  async takeBack(
    @Param('site', IdPipe) siteId: number,
    @Param('version', WholePipe) version: number,
    @Query() { live }: TakeBackQuery,
  ): Promise<Deployment> {
    return this.deployments.takeBack(await this.sites.get(siteId), version, live)
  }

  /** What the site has, against what was last put there. */
  @Get('sites/:site/rules/at-site')
  @Answers(RulesAtSite)
  async compare(@Param('site', IdPipe) siteId: number): Promise<RulesAtSite> {
    return this.deployments.compare(await this.sites.get(siteId))
  }

  @Post('sites/:site/rules/adopt')
  @HttpCode(200)
  @Answers(Deployment)
  async adopt(@Param('site', IdPipe) siteId: number, @Body() { siteVersion }: RulesAtSiteRequest): Promise<Deployment> {
    return this.deployments.adopt(await this.sites.get(siteId), siteVersion)
  }

  @Post('sites/:site/rules/restore')
  @HttpCode(200)
  @Answers(Deployment)
  async restore(
    @Param('site', IdPipe) siteId: number,
    @Body() { siteVersion }: RulesAtSiteRequest,
  ): Promise<Deployment> {
    return this.deployments.restore(await this.sites.get(siteId), siteVersion)
  }

  @Get('sites/:site/deployments')
  @KeptReady()
  @Answers(Deployment, { list: true })
  async list(@Param('site', IdPipe) siteId: number): Promise<Deployment[]> {
    await this.sites.get(siteId)
    return this.deployments.list(siteId)
  }

  @Get('deployments/:deployment')
  @Answers(Deployment)
  async get(@Param('deployment', IdPipe) id: number): Promise<Deployment> {
    return this.deployments.get(id)
  }
}
