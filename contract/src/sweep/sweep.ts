import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsDateString,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Max,
  Min,
} from 'class-validator'

export const SWEEP_STATUSES = ['running', 'paused', 'done', 'cancelled'] as const
export type SweepStatus = (typeof SWEEP_STATUSES)[number]

export const DEFAULT_REPEATS = 3

/** Asks for a sweep. Without pages, every page of the site is read. */
export class SweepRequest {
  @IsOptional()
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(5000)
  @IsInt({ each: true })
  pageIds?: number[]

  @IsOptional()
  @IsInt()
  @Min(1)
  @Max(50)
  repeats?: number

  /** The site's first lens without it. */
  @IsOptional()
  @IsInt()
  lensId?: number
}

export class Sweep {
  @IsInt() id: number
  @IsInt() siteId: number
  @IsIn(SWEEP_STATUSES) status: SweepStatus
  @IsIn(['survey', 'proof', 'import']) purpose: 'survey' | 'proof' | 'import'
  /** Null for what came from a file. */
  @IsOptional() @IsInt() lensId: number | null
  @IsString() lens: string
  @IsInt() repeats: number
  /** Pages to read, pages read, pages that could not be read at all. */
  @IsInt() pages: number
  @IsInt() pagesDone: number
  @IsInt() pagesFailed: number
  @IsInt() readings: number
  @IsInt() readingsFailed: number
  /** Readings that the sweep takes when nothing goes wrong. */
  @IsInt() readingsPlanned: number
  /** Path of the page being read now. */
  @IsOptional() @IsString() atPage: string | null
  @IsDateString() startedAt: string
  @IsOptional() @IsDateString() finishedAt: string | null
  /** The reasons why readings failed, each with the pages it happened on. */
  failures: { reason: string; paths: string[] }[]
}
