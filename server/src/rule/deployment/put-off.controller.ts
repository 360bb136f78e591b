import { Body, Controller, Delete, Get, HttpCode, Param, Post } from '@nestjs/common'
import { PutOff, PutOffRequest, PutTimes } from '@unvelt/contract'
import { Answers } from '../../openapi/answers.js'
import { IdPipe } from '../../problem/id.pipe.js'
import { SiteService } from '../../site/site.service.js'
import { PutOffService } from './put-off.service.js'

/** When changes go live, where that is not at once. */
@Controller()
export class PutOffController {
  constructor(
    private readonly sites: SiteService,
    private readonly service: PutOffService,
  ) {}

  @Get('sites/:site/put-times')
  @Answers(PutTimes)
  async times(@Param('site', IdPipe) siteId: number): Promise<PutTimes> {
    return this.service.times(await this.sites.get(siteId))
  }

  @Post('sites/:site/rules/put-off')
  @HttpCode(200)
  @Answers(PutOff)
  async putOff(@Param('site', IdPipe) siteId: number, @Body() request: PutOffRequest): Promise<PutOff> {
    return this.service.putOff(await this.sites.get(siteId), request)
  }

  @Delete('put-offs/:id')
  @Answers(PutOff)
  async withdraw(@Param('id', IdPipe) id: number): Promise<PutOff> {
    return this.service.withdraw(id)
  }
}
