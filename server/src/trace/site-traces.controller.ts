import { Controller, Get, Param } from '@nestjs/common'
import { SpanTarget, TasksAndTraces, TraceView } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { TraceService } from './trace.service.js'
import { IdPipe } from '../problem/id.pipe.js'

@Controller('sites/:site/traces')
export class SiteTracesController {
  constructor(private readonly traces: TraceService) {}

  @Get()
  @Answers(TasksAndTraces)
  all(@Param('site', IdPipe) site: number): Promise<TasksAndTraces> {
    return this.traces.ofSite(site)
  }

  /** Where the site sends its spans, and what it shows there. */
  @Get('target')
  @Answers(SpanTarget)
  target(@Param('site', IdPipe) site: number): Promise<SpanTarget> {
    return this.traces.target(site)
  }

  @Get(':trace')
  @Answers(TraceView)
  one(@Param('site', IdPipe) site: number, @Param('trace') trace: string): Promise<TraceView> {
    return this.traces.one(site, trace)
  }
}
