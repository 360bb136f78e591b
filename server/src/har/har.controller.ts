import { Controller, Get, Param, Post, Query, Req, StreamableFile } from '@nestjs/common'
import type { Request } from 'express'
import { Readable } from 'node:stream'
import { HarImport } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { ProblemError } from '../problem/problem.error.js'
import { SiteService } from '../site/site.service.js'
import { onlyTolls } from '../sweep/sweep.model.js'
import { SweepService } from '../sweep/sweep.service.js'
import { HarExportService } from './har-export.service.js'
import { HarImportService, MOST_BYTES } from './har-import.service.js'
import { IdPipe, WholePipe } from '../problem/id.pipe.js'

@Controller()
export class HarController {
  constructor(
    private readonly sites: SiteService,
    private readonly sweeps: SweepService,
    private readonly imports: HarImportService,
    private readonly exports: HarExportService,
  ) {}

  /** The file itself is the body, of type application/har+json. It is read as it comes and never held whole. */
  @Post('sites/:site/har')
  @Answers(HarImport, { status: 201 })
  async take(@Param('site', IdPipe) siteId: number, @Req() request: Request): Promise<HarImport> {
    const site = await this.sites.get(siteId)
    if (!request.is('application/har+json'))
      throw new ProblemError(415, 'Expected a body of type application/har+json.')
    if (Number(request.headers['content-length'] ?? 0) > MOST_BYTES)
      throw new ProblemError(413, `The file is larger than ${MOST_BYTES / 1e6} MB.`)
    return this.imports.take(site, request as AsyncIterable<Uint8Array>)
  }

  /** A whole sweep, or one page of it. */
  @Get('sweeps/:sweep/har')
  async give(
    @Param('sweep', IdPipe) sweepId: number,
    @Query('page', WholePipe) page?: number,
  ): Promise<StreamableFile> {
    const sweep = await this.sweeps.get(sweepId)
    if (sweep.thinnedAt) throw new ProblemError(410, onlyTolls(sweep))
    const name = `sweep-${sweep.id}${page === undefined ? '' : `-page-${page}`}.har`
    return new StreamableFile(Readable.from(this.exports.write(sweep, page)), {
      type: 'application/har+json',
      disposition: `attachment; filename="${name}"`,
    })
  }
}
