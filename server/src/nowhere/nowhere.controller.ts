import { Controller, Delete, Get, HttpCode, Param, ParseIntPipe, Post } from '@nestjs/common'
import { MadeCopyView, NowhereRules, NowhereView } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { KeptReady } from '../ready/kept-ready.js'
import { IdPipe } from '../problem/id.pipe.js'
import { SiteService } from '../site/site.service.js'
import { NowhereService } from './nowhere.service.js'

@Controller('sites/:site/nowhere')
export class NowhereController {
  constructor(
    private readonly sites: SiteService,
    private readonly nowhere: NowhereService,
  ) {}

  /** What of the site's stylesheets and scripts no page and no step has used, as it was looked for last. */
  @Get()
  @KeptReady()
  @Answers(NowhereView)
  async view(@Param('site', IdPipe) site: number): Promise<NowhereView> {
    return this.nowhere.view(await this.sites.get(site))
  }

  @Post()
  @HttpCode(202)
  @Answers(NowhereView, { status: 202 })
  async start(@Param('site', IdPipe) site: number): Promise<NowhereView> {
    return this.nowhere.start(await this.sites.get(site))
  }

  /** Stops after the file at hand. */
  @Delete()
  @Answers(NowhereView)
  async stop(@Param('site', IdPipe) site: number): Promise<NowhereView> {
    return this.nowhere.stop(await this.sites.get(site))
  }

  /** The rules of one stylesheet that are used nowhere, and the file without those that nothing speaks for. */
  @Get('files/:n')
  @Answers(NowhereRules)
  async rules(@Param('site', IdPipe) site: number, @Param('n', ParseIntPipe) n: number): Promise<NowhereRules> {
    return this.nowhere.rules(await this.sites.get(site), n)
  }

  /** Keeps the cleaned file, so that a rule can serve it in the place of the file. */
  @Post('files/:n/copy')
  @Answers(MadeCopyView, { status: 201 })
  async copy(@Param('site', IdPipe) site: number, @Param('n', ParseIntPipe) n: number): Promise<MadeCopyView> {
    return this.nowhere.copy(await this.sites.get(site), n)
  }
}
