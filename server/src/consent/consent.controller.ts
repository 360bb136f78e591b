import { Body, Controller, Get, HttpCode, Param, Post } from '@nestjs/common'
import { ConsentCost, ConsentRequest } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { IdPipe } from '../problem/id.pipe.js'
import { SiteService } from '../site/site.service.js'
import { ConsentService } from './consent.service.js'

@Controller('sites/:site/consent')
export class ConsentController {
  constructor(
    private readonly sites: SiteService,
    private readonly consent: ConsentService,
  ) {}

  @Get()
  @Answers(ConsentCost)
  async view(@Param('site', IdPipe) id: number): Promise<ConsentCost> {
    return this.consent.view(await this.sites.get(id))
  }

  @Post()
  @HttpCode(202)
  @Answers(ConsentCost, { status: 202 })
  async start(@Param('site', IdPipe) id: number, @Body() wish: ConsentRequest): Promise<ConsentCost> {
    return this.consent.start(await this.sites.get(id), wish)
  }
}
