import { IsFigures } from '../maps/maps.js'
import { Type } from '../nested/type.js'
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
  IsNumber,
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

/** What stands where something is held until somebody asks for it; checked by the rule engine itself. */
export class AskingInput {
  @IsOptional() @IsString() words?: string
  /** A path of the site, or an http or https address. */
  @IsOptional() @IsString() picture?: string
}

/** How a copy is kept, of an outside file or one that was made; checked by the rule engine itself. */
export class CopyTermsInput {
  /** Days after which the site fetches the file anew; never without. */
  @IsOptional() @IsInt() refreshDays?: number
  /** Why the file may be copied: the licence, or whose word it is. */
  @IsOptional() @IsString() licence?: string
  /** Of a copy that was made: the hash of what is in it, and of the file that it was made from (SRI). */
  @IsOptional() @IsString() content?: string
  @IsOptional() @IsString() from?: string
}

/** A font of the system in the place of one that is left out, in percentages (CSS Fonts 5); checked by the rule engine itself. */
export class FontStandInInput {
  @IsString() family: string
  @IsOptional() @IsString() weight?: string
  @IsOptional() @IsIn(['normal', 'italic']) style?: 'normal' | 'italic'
  @IsString({ each: true }) local: string[]
  @IsNumber() size: number
  @IsNumber() ascent: number
  @IsNumber() descent: number
  @IsNumber() lineGap: number
}

/** A host that pages connect to early; checked by the rule engine itself. */
export class EarlyHostInput {
  @IsString() origin: string
  /** Files are asked for there without credentials, as fonts are. */
  @IsOptional() @IsBoolean() cors?: boolean
  /** Only its name is looked up. */
  @IsOptional() @IsBoolean() nameOnly?: boolean
}

/** What an effect says beside its name, each with that effect alone. */
export class RuleParticulars {
  /** For hold: until when. */
  @IsOptional() @IsIn(HOLD_UNTIL) until?: HoldUntil
  /** For hold until asked: what stands in its place. */
  @IsOptional() @ValidateNested() @Type(() => AskingInput) ask?: AskingInput
  /** For order: which. */
  @IsOptional() @IsIn(ORDERS) order?: Order
  /** For set: the setting's value. */
  @IsOptional() @IsInt() value?: number
  /** For local: how the copy is kept. */
  @IsOptional() @ValidateNested() @Type(() => CopyTermsInput) copy?: CopyTermsInput
  /** For system-font: what stands in. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(100)
  @ValidateNested({ each: true })
  @Type(() => FontStandInInput)
  fonts?: FontStandInInput[]
  /** For hint: to where. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(100)
  @ValidateNested({ each: true })
  @Type(() => EarlyHostInput)
  hosts?: EarlyHostInput[]
  /** For hint of a picture's file: no tag names it, so a link announces it. */
  @IsOptional() @IsBoolean() ahead?: true
}

/** The draft that something was written from, as it was then. */
export class DraftBasis {
  @IsString() @Length(1, 100) id: string
  @IsString() @Length(1, 100) revision: string
}

/** A rule as the maintainer drafts it. Its place is checked by the rule engine itself. */
export class RuleInput extends RuleParticulars {
  @IsString() @Length(1, 200) addon: string
  /** One of its features, files or settings; the whole add-on without. */
  @IsOptional() @IsString() @Length(1, 2000) feature?: string
  @IsOptional() @IsString() @Length(1, 2000) file?: string
  @IsOptional() @IsString() @Length(1, 2000) setting?: string
  @IsIn(EFFECTS) effect: Effect
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
  /**
   * Refused with 409 where this draft is another one by now; null: where there is any on the same. Whatever there is gives way
   * without it.
   */
  @IsOptional() @ValidateNested() @Type(() => DraftBasis) basedOn?: DraftBasis | null
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

export class RuleView extends RuleParticulars {
  @IsString() id: string
  @IsString() addon: string
  @IsString() addonName: string
  /** One of its features, files or settings; the whole add-on without. */
  @IsOptional() @IsString() @Length(1, 2000) feature?: string
  @IsOptional() @IsString() @Length(1, 2000) file?: string
  @IsOptional() @IsString() @Length(1, 2000) setting?: string
  @IsIn(EFFECTS) effect: Effect
  @IsObject() place: Place
  @IsOptional() @ValidateNested() @Type(() => RuleCondition) condition?: RuleCondition
  @IsOptional() @IsString() note?: string
  @IsOptional() @IsString() author?: string
  /** The day on which it was drafted, and the last one on which it is meant to hold. */
  @IsOptional() @IsString() made?: string
  @IsOptional() @IsString() expires?: string
  /** A draft by which a live rule goes. */
  @IsOptional() @IsBoolean() removed?: boolean
  /** Of a draft: another one whenever it says something else. */
  @IsOptional() @IsString() revision?: string
}

export class RuleIds {
  @IsArray() @ArrayMaxSize(100) @IsString({ each: true }) ids: string[]
}

export const NO_SAVING = ['keeps', 'other-visits', 'always-live', 'not-read'] as const

/** What one rule spares on the mean page that it holds on, by the newest sweep that was read without it. */
export class RuleSaving {
  @IsString() id: string
  /** Why nothing can be told; null where it can. */
  @IsOptional() @IsIn(NO_SAVING) because: (typeof NO_SAVING)[number] | null
  @IsOptional() @IsInt() sweepId: number | null
  @IsOptional() @IsDateString() readAt: string | null
  /** Pages that it holds on and that were read. */
  @IsInt() pages: number
  /** By measure, a mean page. */
  @IsFigures() saved: Record<string, number>
  /** What only comes later; none of it is in `saved`. */
  @IsFigures() postponed: Record<string, number>
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

/** A copy of a file on the site's own host, as its connector tells of it. */
export class LocalCopyView {
  @IsString() address: string
  @IsString() path: string
  @IsString() addon: string
  @IsInt() bytes: number
  /** Whether browsers check it against a hash. */
  @IsBoolean() isChecked: boolean
  @IsDateString() fetchedAt: string
  /** Whether it was made and given to the site, and not fetched. */
  @IsBoolean() isMade: boolean
  /** When it was last looked whether the file outside is another one. */
  @IsOptional() @IsDateString() checkedAt: string | null
  @IsOptional() @IsInt() refreshDays: number | null
  @IsOptional() @IsString() trouble: string | null
}

/** What the newest sweep knows that a rule about an add-on can say. */
export class RulePartsFound {
  /** By the metrics of the font files that it loads. */
  @IsArray() fonts: FontStandInInput[]
  /** Outside hosts that it asks, the one that most pages ask first. */
  @IsArray() hosts: EarlyHostInput[]
}

/** Copies of outside files on the site's own host. */
export class LocalCopies {
  /** Whether the site tells of them at all. */
  @IsBoolean() isTold: boolean
  @IsArray() copies: LocalCopyView[]
}
