import { Controller, Get, Param, Query } from '@nestjs/common'
import { Promises, PromisesQuery } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { IdPipe } from '../problem/id.pipe.js'
import { SiteService } from '../site/site.service.js'
import { PromiseService } from './promise.service.js'

@Controller('sites/:site/promises')
export class PromiseController {
  constructor(
    private readonly sites: SiteService,
    private readonly promises: PromiseService,
  ) {}

  /** What came of what was said that could be spared of the site’s pictures, or of its scripts and styles. */
  @Get()
  @Answers(Promises)
  async view(@Param('site', IdPipe) site: number, @Query() { kind }: PromisesQuery): Promise<Promises> {
    return this.promises.view(await this.sites.get(site), kind)
  }
}
