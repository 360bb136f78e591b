import { Type } from '../nested/type.js'
import {
  IsArray,
  IsBoolean,
  IsDateString,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  Length,
  MaxLength,
  ValidateNested,
} from 'class-validator'
import { RuleInput } from '../rule/rule.js'
import { Sweep } from '../sweep/sweep.js'
import { WaitView } from '../page/page.js'

/** Sums over the pages that a move touches. */
export class Spared {
  @IsInt() pages: number
  @IsInt() requests: number
  @IsNumber() transferBytes: number
  @IsNumber() serverMs: number
  @IsNumber() mainThreadMs: number
}

/** One thing to do next. */
export class NextMoveView {
  @IsString() key: string
  @IsString() type: string
  @IsString() addon: string
  @IsString() name: string
  @IsString({ each: true }) others: string[]
  @IsString() reason: string
  @IsString() certainty: string
  @ValidateNested() @Type(() => Spared) spared: Spared
  /** It comes later instead of being spared. */
  @IsBoolean() postponed: boolean
  /** Waiting in a thousand page views, ms. */
  @IsNumber() waitingMs: number
  @ValidateNested({ each: true }) @Type(() => RuleInput) rules: RuleInput[]
}

export class DismissedMove {
  @IsString() move: string
  @IsString() why: string
  @IsDateString() at: string
}

export class DismissalInput {
  @IsString() @Length(1, 300) move: string
  @IsString() @MaxLength(2000) why: string
}

/** What is another than at the sweep before. Differences over the pages that both have read. */
export class ChangeView {
  @IsString() type: string
  @IsString() slug: string
  @IsString() name: string
  @IsNumber() requests: number
  @IsNumber() transferBytes: number
  @IsNumber() serverMs: number
  @IsOptional() @IsString() from?: string
  @IsOptional() @IsString() to?: string
}

/** The middle page of a sweep, for the line over the past. */
export class PastSweep {
  @IsInt() sweepId: number
  @IsDateString() at: string
  @IsInt() pages: number
  @IsNumber() requests: number
  @IsNumber() transferBytes: number
  @IsNumber() serverMs: number
  @IsOptional() @IsNumber() loadMs: number | null
}

export class KindToll {
  @IsString() kind: string
  @IsInt() payers: number
  @IsInt() requests: number
  @IsNumber() transferBytes: number
  @IsNumber() idleBytes: number
  @IsNumber() mainThreadMs: number
  @IsNumber() serverMs: number
}

/** The middle page, measure by measure, and its load event. */
export class MiddlePage {
  @IsNumber() requests: number
  @IsNumber() transferBytes: number
  @IsNumber() idleBytes: number
  @IsNumber() decodedBytes: number
  @IsNumber() serverMs: number
  @IsOptional() @IsNumber() loadMs: number | null
}

export class AddOnCounts {
  @IsInt() all: number
  @IsInt() active: number
  @IsInt() seenInUse: number
  @IsInt() notSeen: number
  @IsInt() worksUnseen: number
  @IsInt() notKnown: number
  @IsInt() undecided: number
}

/** How many pages vary too much between their repeats to tell their load time. */
export class SweepNoiseView {
  @IsInt() pages: number
  @IsInt() tooNoisy: number
  @IsOptional() @IsInt() repeatsNeeded: number | null
}

/** Where the site stands. */
export class Standing {
  @ValidateNested() @Type(() => Sweep) sweep: Sweep | null
  @IsInt() pagesRead: number
  @ValidateNested() @Type(() => MiddlePage) middle: MiddlePage
  /** Null without a sweep. */
  @IsOptional() @ValidateNested() @Type(() => SweepNoiseView) noise: SweepNoiseView | null
  @ValidateNested() @Type(() => AddOnCounts) addOns: AddOnCounts
  @IsInt() outsideHosts: number
  @IsInt() openQuestions: number
  @IsInt() unassignedRequests: number
  /** Medians over the most visited pages; null where the site does not tell. */
  @IsOptional() @ValidateNested() @Type(() => WaitView) wait: WaitView | null
  @IsInt() waitPages: number
  @ValidateNested({ each: true }) @Type(() => KindToll) kinds: KindToll[]
  @IsArray() @ValidateNested({ each: true }) @Type(() => NextMoveView) moves: NextMoveView[]
  @ValidateNested({ each: true }) @Type(() => DismissedMove) dismissed: DismissedMove[]
  @ValidateNested({ each: true }) @Type(() => ChangeView) changes: ChangeView[]
  @IsOptional() @IsInt() changedSince: number | null
  @ValidateNested({ each: true }) @Type(() => PastSweep) past: PastSweep[]
}
