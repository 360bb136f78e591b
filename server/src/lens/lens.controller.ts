import { Body, Controller, Delete, Get, HttpCode, Param, Post, Put } from '@nestjs/common'
import { Lens, LensInput, SignInForm, SignInPage, SignInTrial, SignInTrialRequest } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { KeptReady } from '../ready/kept-ready.js'
import { SiteService } from '../site/site.service.js'
import { LensService } from './lens.service.js'
import { SignInService } from './sign-in.service.js'
import { IdPipe } from '../problem/id.pipe.js'

@Controller('sites/:site/lenses')
export class LensController {
  constructor(
    private readonly sites: SiteService,
    private readonly lenses: LensService,
    private readonly signIns: SignInService,
  ) {}

  @Get()
  @KeptReady()
  @Answers(Lens, { list: true })
  async list(@Param('site', IdPipe) siteId: number): Promise<Lens[]> {
    await this.sites.get(siteId)
    return this.lenses.list(siteId)
  }

  @Post()
  @HttpCode(201)
  @Answers(Lens, { status: 201 })
  async add(@Param('site', IdPipe) siteId: number, @Body() input: LensInput): Promise<Lens> {
    await this.sites.get(siteId)
    return this.lenses.add(siteId, input)
  }

  /** Looks for the sign-in form of a page of the site. */
  @Post('sign-in-form')
  @HttpCode(200)
  @Answers(SignInForm)
  findForm(@Param('site', IdPipe) siteId: number, @Body() { page }: SignInPage): Promise<SignInForm> {
    return this.signIns.find(siteId, page)
  }

  /** Signs in once and keeps nothing of it. */
  @Post('sign-in-trial')
  @HttpCode(200)
  @Answers(SignInTrial)
  tryForm(@Param('site', IdPipe) siteId: number, @Body() trial: SignInTrialRequest): Promise<SignInTrial> {
    return this.signIns.try(siteId, trial)
  }

  @Put(':lens')
  @Answers(Lens)
  change(
    @Param('site', IdPipe) siteId: number,
    @Param('lens', IdPipe) id: number,
    @Body() input: LensInput,
  ): Promise<Lens> {
    return this.lenses.change(siteId, id, input)
  }

  @Delete(':lens')
  @HttpCode(204)
  remove(@Param('site', IdPipe) siteId: number, @Param('lens', IdPipe) id: number): Promise<void> {
    return this.lenses.remove(siteId, id)
  }

  /** Takes a removal back. */
  @Post(':lens/restore')
  @HttpCode(200)
  @Answers(Lens)
  restore(@Param('site', IdPipe) siteId: number, @Param('lens', IdPipe) id: number): Promise<Lens> {
    return this.lenses.restore(siteId, id)
  }
}
