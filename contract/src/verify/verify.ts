import { Type } from '../nested/type.js'
import { IsBoolean, IsDateString, IsIn, IsInt, IsOptional, IsString, ValidateNested } from 'class-validator'
import { RuleView } from '../rule/rule.js'

/** What became of rules on a page, as somebody else carries them out. */
export class VerifiedEffect {
  /** The rules that say it, by their ids. */
  @IsString({ each: true }) rules: string[]
  /** `unknown`: can't be told from outside. */
  @IsIn(['done', 'left', 'unknown']) outcome: 'done' | 'left' | 'unknown'
  /** Addresses in tags that it would have changed; inline code as an empty text. */
  @IsString({ each: true }) inPage: string[]
  /** Addresses that were asked for all the same. */
  @IsString({ each: true }) arrived: string[]
}

/** A view of a page on which a rule is not carried out. */
export class NotCarriedOut {
  @IsInt() pageId: number
  @IsString() path: string
  @IsString() lens: string
  @IsString({ each: true }) inPage: string[]
  @IsString({ each: true }) arrived: string[]
}

export class VerifiedRule {
  @ValidateNested() @Type(() => RuleView) rule: RuleView
  /** It is a draft; else it is counted as live. */
  @IsBoolean() isDraft: boolean
  /** Views on which it could be told, and those on which it is not carried out. */
  @IsInt() views: number
  @ValidateNested({ each: true }) @Type(() => NotCarriedOut) left: NotCarriedOut[]
  /** Views on which it can't be told from outside. */
  @IsInt() unknown: number
}

/** A page that could not be looked at. */
export class UnverifiedPage {
  @IsInt() pageId: number
  @IsString() path: string
  @IsString() why: string
}

/** Whether the rules hold at a site that they were handed out to. */
export class Verification {
  @IsInt() pages: number
  @IsInt() pagesDone: number
  @ValidateNested({ each: true }) @Type(() => UnverifiedPage) failed: UnverifiedPage[]
  @ValidateNested({ each: true }) @Type(() => VerifiedRule) rules: VerifiedRule[]
  /** Why it says nothing of the drafts as they are; null while it does. */
  @IsOptional() @IsString() stale: string | null
  /** All pages were looked at, and nothing is left to do on any. */
  @IsBoolean() holds: boolean
  @IsOptional() @IsDateString() takenAt: string | null
}
