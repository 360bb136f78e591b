import { IsFigures } from '../maps/maps.js'
import { Type } from 'class-transformer'
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsBoolean,
  IsDateString,
  IsIn,
  IsInt,
  IsObject,
  IsOptional,
  IsString,
  Length,
  Matches,
  MaxLength,
  ValidateNested,
} from 'class-validator'
import { EFFECTS, HOLD_UNTIL, ORDERS, type Effect, type HoldUntil, type Order, type Place } from '@unvelt/core'

/** Narrows a rule to some visits. */
export class RuleCondition {
  @IsOptional() @IsIn(['desk', 'handset']) device?: 'desk' | 'handset'
  @IsOptional() @IsIn(['signed-out', 'signed-in']) visitor?: 'signed-out' | 'signed-in'
}

/** A rule as the maintainer drafts it. Its place is checked by the rule engine itself. */
export class RuleInput {
  @IsString() @Length(1, 200) addon: string
  /** One of its features, files or settings; the whole add-on without. */
  @IsOptional() @IsString() @Length(1, 2000) feature?: string
  @IsOptional() @IsString() @Length(1, 2000) file?: string
  @IsOptional() @IsString() @Length(1, 2000) setting?: string
  @IsIn(EFFECTS) effect: Effect
  /** For hold: until when. */
  @IsOptional() @IsIn(HOLD_UNTIL) until?: HoldUntil
  /** For order: which. */
  @IsOptional() @IsIn(ORDERS) order?: Order
  /** For set: the setting's value. */
  @IsOptional() @IsInt() value?: number
  @IsObject() place: Place
  /** For which visits; all without. */
  @IsOptional() @ValidateNested() @Type(() => RuleCondition) condition?: RuleCondition
  @IsOptional() @IsString() @MaxLength(2000) note?: string
  @IsOptional() @IsString() @MaxLength(200) author?: string
  /** The last day on which it is meant to hold, `2026-11-29`. */
  @IsOptional()
  @Matches(/^\d{4}-\d\d-\d\d$/, { message: 'expires: expected a day, such as 2026-11-29' })
  expires?: string
  /** The live rule on just this is to go; all else of it says which is meant. */
  @IsOptional() @IsBoolean() removed?: boolean
}

export class RuleInputs {
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(2000)
  @ValidateNested({ each: true })
  @Type(() => RuleInput)
  rules: RuleInput[]
}

export class DraftChange {
  @IsIn(EFFECTS) effect: Effect
  /** For hold: until when. */
  @IsOptional() @IsIn(HOLD_UNTIL) until?: HoldUntil
  /** For order: which. */
  @IsOptional() @IsIn(ORDERS) order?: Order
}

export class RuleView {
  @IsString() id: string
  @IsString() addon: string
  @IsString() addonName: string
  /** One of its features, files or settings; the whole add-on without. */
  @IsOptional() @IsString() @Length(1, 2000) feature?: string
  @IsOptional() @IsString() @Length(1, 2000) file?: string
  @IsOptional() @IsString() @Length(1, 2000) setting?: string
  @IsIn(EFFECTS) effect: Effect
  /** For hold: until when. */
  @IsOptional() @IsIn(HOLD_UNTIL) until?: HoldUntil
  /** For order: which. */
  @IsOptional() @IsIn(ORDERS) order?: Order
  /** For set: the setting's value. */
  @IsOptional() @IsInt() value?: number
  @IsObject() place: Place
  @IsOptional() @ValidateNested() @Type(() => RuleCondition) condition?: RuleCondition
  @IsOptional() @IsString() note?: string
  @IsOptional() @IsString() author?: string
  /** The day on which it was drafted, and the last one on which it is meant to hold. */
  @IsOptional() @IsString() made?: string
  @IsOptional() @IsString() expires?: string
  /** A draft by which a live rule goes. */
  @IsOptional() @IsBoolean() removed?: boolean
}

/** A rule file (`unvelt-rules/1`), to become drafts. */
export class RuleFileInput {
  @IsObject() file: object
  /** Takes what fits, and leaves out what does not. */
  @IsOptional() @IsBoolean() partly?: boolean
}

export class PageSaving {
  @IsString() path: string
  @IsFigures() saved: Record<string, number>
}

/** A library that stays although a rule would unload it. */
export class StayingLibrary {
  @IsString() library: string
  @IsString({ each: true }) neededBy: string[]
  @IsInt() pages: number
}

/** A file that would have to go with an add-on and that no mechanism reaches. */
export class OutOfReach {
  @IsString() payer: string
  @IsString() url: string
  @IsString() because: string
  @IsInt() pages: number
}

/** What rules spare, summed over the pages they touch. Requests and queries are counts; the rest bytes or ms. */
export class Prediction {
  @IsFigures() saved: Record<string, number>
  /** What comes only later, where add-ons are held; none of it is in `saved`. */
  @IsFigures() postponed: Record<string, number>
  @IsFigures() before: Record<string, number>
  @ValidateNested({ each: true }) @Type(() => PageSaving) perPage: PageSaving[]
  /** Libraries that stay although a rule would unload them, with the add-ons that need them. */
  @ValidateNested({ each: true }) @Type(() => StayingLibrary) staying: StayingLibrary[]
  /** What stays although a rule would unload it, and why; it counts nowhere. */
  @ValidateNested({ each: true }) @Type(() => OutOfReach) outOfReach: OutOfReach[]
  /** Settings and features of which only a rehearsal can tell what they spare. */
  @IsInt() toRehearse: number
  /** The sweep it is read from. */
  @IsOptional() @IsInt() sweepId: number | null
  /** Pages the rules touch, and how many of them have no reading to predict from. */
  @IsInt() pages: number
  @IsInt() pagesUnread: number
}

/** A draft that breaks something, and is not to go live as it is. */
export class DraftAside {
  @ValidateNested() @Type(() => RuleView) rule: RuleView
  @IsString() why: string
  @IsDateString() at: string
}

export class Drafts {
  @ValidateNested({ each: true }) @Type(() => RuleView) rules: RuleView[]
  @ValidateNested({ each: true }) @Type(() => DraftAside) aside: DraftAside[]
  @ValidateNested() @Type(() => Prediction) prediction: Prediction
}

export class RuleVersion {
  @IsInt() version: number
  @ValidateNested({ each: true }) @Type(() => RuleView) rules: RuleView[]
  @IsString() what: string
  @IsDateString() putAt: string
  @IsOptional() @IsInt() proofId: number | null
}

export class LiveRules {
  @IsInt() version: number
  @ValidateNested({ each: true }) @Type(() => RuleVersion) versions: RuleVersion[]
}
