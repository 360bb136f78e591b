import { Controller, Delete, Get, HttpCode, Param, Post } from '@nestjs/common'
import { Verification } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { IdPipe } from '../problem/id.pipe.js'
import { SiteService } from '../site/site.service.js'
import { VerifyService } from './verify.service.js'

@Controller('sites/:site/verification')
export class VerifyController {
  constructor(
    private readonly sites: SiteService,
    private readonly verify: VerifyService,
  ) {}

  /** Whether the rules hold at a site without a connector, as it was looked at last. */
  @Get()
  @Answers(Verification)
  async view(@Param('site', IdPipe) site: number): Promise<Verification> {
    return this.verify.view(await this.sites.get(site))
  }

  @Post()
  @HttpCode(202)
  @Answers(Verification, { status: 202 })
  async start(@Param('site', IdPipe) site: number): Promise<Verification> {
    return this.verify.start(await this.sites.get(site))
  }

  /** Stops after the page at hand. */
  @Delete()
  @Answers(Verification)
  async stop(@Param('site', IdPipe) site: number): Promise<Verification> {
    return this.verify.stop(await this.sites.get(site))
  }

  /** Counts as live what was found to hold. */
  @Post('adopt')
  @HttpCode(200)
  @Answers(Verification)
  async adopt(@Param('site', IdPipe) site: number): Promise<Verification> {
    return this.verify.adopt(await this.sites.get(site))
  }
}
