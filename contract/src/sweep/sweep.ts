import {
  ArrayMaxSize,
  ArrayMinSize,
  ArrayUnique,
  IsArray,
  IsBoolean,
  IsDateString,
  IsIn,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  Max,
  Min,
  ValidateNested,
} from 'class-validator'
import { Type } from '../nested/type.js'

export const SWEEP_STATUSES = ['running', 'paused', 'done', 'cancelled'] as const
export type SweepStatus = (typeof SWEEP_STATUSES)[number]

/** The first looks at the use of code and takes the steps; three more are the fewest that can tell how times vary. */
export const DEFAULT_REPEATS = 4
export const MOST_REPEATS = 50

/** Of each kind of page the most visited, and some drawn from the rest; the same seed draws the same. */
export class SampleRequest {
  @IsInt() @Min(0) @Max(1000) mostVisited: number
  @IsInt() @Min(0) @Max(1000) drawn: number
  @IsInt() @Min(0) @Max(1_000_000) seed: number
}

/** Which pages a sweep reads, where it doesn't read all. */
export class SampleView {
  /** Pages that could have been read. */
  @IsInt() of: number
  /** Share of the known page views that falls on those read, 0 to 1; null where no views are known. */
  @IsOptional() @IsNumber() share: number | null
  @IsOptional() @IsInt() seed: number | null
}

/** What a sweep through one lens would read. */
export class SweepPages {
  @IsInt() lensId: number
  @IsInt() pages: number
  /** Pages that can be seen through the lens. */
  @IsInt() of: number
  /** Share of the known page views that falls on them, 0 to 1; null where no views are known. */
  @IsOptional() @IsNumber() share: number | null
  /** Seconds that a reading took in the newest sweep through the lens; null where there was none. */
  @IsOptional() @IsNumber() secondsEach: number | null
}

/** Asks for a sweep. Without pages, every page of the site is read. */
export class SweepRequest {
  @IsOptional()
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(5000)
  @IsInt({ each: true })
  @Max(2_147_483_647, { each: true })
  pageIds?: number[]

  @IsOptional()
  @IsInt()
  @Min(1)
  @Max(MOST_REPEATS)
  repeats?: number

  /** A sweep of its own for each, one after the other; the site's first lens without any. */
  @IsOptional()
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(10)
  @ArrayUnique()
  @IsInt({ each: true })
  @Max(2_147_483_647, { each: true })
  lensIds?: number[]

  /** Sets all live rules aside, for what the site would be without them. */
  @IsOptional() @IsBoolean() withoutRules?: boolean

  /** Only pages of these kinds. */
  @IsOptional()
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(200)
  @IsString({ each: true })
  kinds?: string[]

  @IsOptional()
  @ValidateNested()
  @Type(() => SampleRequest)
  sample?: SampleRequest
}

/** Pages that somebody looks at while they wait to be read. */
export class ReadNextRequest {
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(5000)
  @IsInt({ each: true })
  @Max(2_147_483_647, { each: true })
  pageIds: number[]
}

export class ReadNextAnswer {
  /** How many of them come next; the others have been read or are being read. */
  @IsInt() pages: number
}

/** All pages of a site, before and after a change, variants against each other, or what came from a file. */
export const SWEEP_PURPOSES = ['survey', 'proof', 'weigh-in', 'shares', 'import'] as const
export type SweepPurpose = (typeof SWEEP_PURPOSES)[number]

/** A reason why readings failed, with the pages it happened on. */
export class SweepFailure {
  @IsString() reason: string
  @IsString({ each: true }) paths: string[]
}

export class TakenOver {
  @IsInt() sweepId: number
  @IsInt() pages: number
}

export class Sweep {
  @IsInt() id: number
  @IsInt() siteId: number
  /** The first of the sweeps that were started together, one for each lens. */
  @IsInt() runId: number
  @IsIn(SWEEP_STATUSES) status: SweepStatus
  /** Why it stands still though nobody wished so: Unvelt is in trouble, or no worker is there. */
  @IsOptional() @IsString() why: string | null
  @IsIn(SWEEP_PURPOSES) purpose: SweepPurpose
  /** Null for what came from a file. */
  @IsOptional() @IsInt() lensId: number | null
  @IsString() lens: string
  @IsInt() repeats: number
  /** Whether it was read with all rules set aside. */
  @IsBoolean() withoutRules: boolean
  /** Null where every page is read. */
  @IsOptional() @ValidateNested() @Type(() => SampleView) sample: SampleView | null
  /** Pages that were not read again, since nothing had happened to them; null where all were read. */
  @IsOptional() @ValidateNested() @Type(() => TakenOver) takenOver: TakenOver | null
  /** Pages to read, pages read, pages that could not be read at all. */
  @IsInt() pages: number
  @IsInt() pagesDone: number
  @IsInt() pagesFailed: number
  /** Pages of which the first reading stands, with all but the times; these are to come. */
  @IsInt() pagesBegun: number
  @IsInt() readings: number
  @IsInt() readingsFailed: number
  /** Readings that the sweep takes when nothing goes wrong. */
  @IsInt() readingsPlanned: number
  /** By the pace of the last readings; null before there is one, and when nothing is under way. */
  @IsOptional() @IsInt() secondsLeft: number | null
  /** Paths of the pages that are being read now, in the order of the sweep; of many the first ones. */
  @IsArray() @IsString({ each: true }) atPages: string[]
  @IsDateString() startedAt: string
  @IsOptional() @IsDateString() finishedAt: string | null
  /** The reasons why readings failed, each with the pages it happened on. */
  @ValidateNested({ each: true }) @Type(() => SweepFailure) failures: SweepFailure[]
}
