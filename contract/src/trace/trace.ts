import { Type } from '../nested/type.js'
import { IsBoolean, IsDateString, IsIn, IsInt, IsNumber, IsOptional, IsString, ValidateNested } from 'class-validator'
import { ServerWork } from '../page/page.js'

/** Work that belongs to no page load, over all its runs that were traced. Times in ms. */
export class TaskView {
  @IsString() name: string
  @IsOptional() @IsString() addOn: string | null
  /** How often it is due, where the site tells. */
  @IsOptional() @IsInt() everySeconds: number | null
  @IsInt() runs: number
  @IsInt() failed: number
  @IsOptional() @IsString() lastFailure: string | null
  @IsOptional() @IsDateString() lastAt: string | null
  @IsOptional() @IsNumber() middleMs: number | null
  @IsOptional() @IsNumber() mostMs: number | null
  @IsOptional() @IsNumber() peakMemoryBytes: number | null
  @IsOptional() @IsString() slowestTrace: string | null
}

/** One trace among the slowest: of each request and task, the slowest is kept. */
export class SlowTraceView {
  @IsString() traceId: string
  @IsIn(['request', 'task']) kind: 'request' | 'task'
  @IsString() name: string
  @IsOptional() @IsString() addOn: string | null
  @IsDateString() startedAt: string
  @IsNumber() ms: number
  @IsOptional() @IsNumber() peakMemoryBytes: number | null
  @IsOptional() @IsString() failure: string | null
}

export class TasksAndTraces {
  @ValidateNested({ each: true }) @Type(() => TaskView) tasks: TaskView[]
  @ValidateNested({ each: true }) @Type(() => SlowTraceView) slowest: SlowTraceView[]
}

/** A span of a trace, where it stands in time. Milliseconds from the beginning of the trace. */
export class TraceSpanView {
  @IsString() id: string
  /** How many spans it lies in. */
  @IsInt() depth: number
  @IsString() addon: string
  @IsString() name: string
  @IsBoolean() query: boolean
  @IsNumber() fromMs: number
  @IsNumber() untilMs: number
  @IsNumber() ms: number
  /** How many queries were put together, since they differ in their values only. */
  @IsInt() times: number
}

export class TraceView {
  @ValidateNested() @Type(() => SlowTraceView) root: SlowTraceView
  @ValidateNested({ each: true }) @Type(() => TraceSpanView) spans: TraceSpanView[]
  /** Spans beyond what is listed. */
  @IsInt() more: number
  @ValidateNested() @Type(() => ServerWork) work: ServerWork
}

/** Where a site sends the spans of what it does. */
export class SpanTarget {
  /** Below the address that Unvelt is reached at. */
  @IsString() path: string
  /** Good for this site alone. */
  @IsString() token: string
  /** When what came last began; null where nothing has come. */
  @IsOptional() @IsDateString() newestAt: string | null
}
