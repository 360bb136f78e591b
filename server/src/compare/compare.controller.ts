import { Controller, Get, Param, Query } from '@nestjs/common'
import { Comparison, ComparisonQuery } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { IdPipe } from '../problem/id.pipe.js'
import { SiteService } from '../site/site.service.js'
import { CompareService } from './compare.service.js'

@Controller('sites/:site/comparison')
export class CompareController {
  constructor(
    private readonly sites: SiteService,
    private readonly comparisons: CompareService,
  ) {}

  /** Two sweeps side by side. */
  @Get()
  @Answers(Comparison)
  async get(@Param('site', IdPipe) siteId: number, @Query() wish: ComparisonQuery): Promise<Comparison> {
    await this.sites.get(siteId)
    return this.comparisons.compare(wish)
  }
}
