import {
  IsArray,
  IsBoolean,
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
import { Page } from '../page/page.js'
import { Sweep } from '../sweep/sweep.js'

export const SHARE_WORDS = ['gives', 'takes', 'nothing', 'not sure'] as const
/** How often a page is read under each set of changes: once to look at everything, the others for the times. */
export const SHARE_ROUNDS = 4
export const MOST_SHARE_ROUNDS = 20

/** What is spared; negative where more is used. The interval is 95 %, and has no bounds after one round. */
export class SharedFigure {
  @IsNumber() estimate: number
  @IsOptional() @IsNumber() low: number | null
  @IsOptional() @IsNumber() high: number | null
  @IsIn(SHARE_WORDS) word: (typeof SHARE_WORDS)[number]
}

export class ShareFigure extends SharedFigure {
  /** Spared with no other change made, and behind all others. */
  @IsNumber() alone: number
  @IsNumber() last: number
}

export class ShareMeasure {
  @IsString() measure: string
  /** Median without any of the changes. */
  @IsNumber() before: number
  @ValidateNested() @Type(() => SharedFigure) total: SharedFigure
  /** In the order of the changes. */
  @ValidateNested({ each: true }) @Type(() => ShareFigure) each: ShareFigure[]
}

export class SharedChange {
  @IsString() words: string
  /** Whether it does anything on this page at all. */
  @IsBoolean() touches: boolean
}

/** Whose gain it is, found on one page. */
export class ProofShares {
  @IsInt() id: number
  @ValidateNested() @Type(() => Page) page: Page
  @ValidateNested() @Type(() => Sweep) sweep: Sweep
  @ValidateNested({ each: true }) @Type(() => SharedChange) changes: SharedChange[]
  /** Under so many sets of the changes the page is read; not all there are where orders were drawn. */
  @IsInt() sets: number
  @IsBoolean() drawn: boolean
  /** What has been read under every set. */
  @ValidateNested({ each: true }) @Type(() => ShareMeasure) measures: ShareMeasure[]
}

export class SharePage {
  @IsInt() id: number
  @IsString() path: string
  @IsString() title: string
  /** Changes that do something there, and under how many sets of them it is read. */
  @IsInt() touching: number
  @IsInt() sets: number
}

/** What of a proof can be shared out, and what was. */
export class ShareOffer {
  @IsInt() changeCount: number
  /** The first of them, in words. */
  @IsArray() @IsString({ each: true }) changes: string[]
  /** Those on which most changes do something first. */
  @ValidateNested({ each: true }) @Type(() => SharePage) pages: SharePage[]
  /** Why nothing can be shared out; null where it can. */
  @IsOptional() @IsString() whyNot: string | null
  /** Seconds that a reading took when the proof was read. */
  @IsOptional() @IsNumber() secondsEach: number | null
  /** Newest first. */
  @ValidateNested({ each: true }) @Type(() => ProofShares) found: ProofShares[]
}

export class ShareRequest {
  @IsInt() @Max(2_147_483_647) pageId: number
  @IsOptional() @IsInt() @Min(2) @Max(MOST_SHARE_ROUNDS) rounds?: number
}
