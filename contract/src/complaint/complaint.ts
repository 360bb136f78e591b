import { Type } from '../nested/type.js'
import {
  IsArray,
  IsBoolean,
  IsDateString,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  MaxLength,
  ValidateNested,
} from 'class-validator'
import { CAUSE_LEVELS, COMPLAINT_KINDS, GUARDS, type CauseLevel, type CauseStage, type GuardName } from '@unvelt/core'
import { SEARCH_STATES, SuspectView, TriedDrafts } from '../culprit/culprit.js'

/** What a page complains of that is to be looked into. */
export class CauseRequest {
  @IsIn(COMPLAINT_KINDS) kind: (typeof COMPLAINT_KINDS)[number]
  @IsString() @MaxLength(10_000) text: string
}

/** What a guard found in a round on the live site that is to be looked into. */
export class GuardCauseRequest {
  @IsInt() pageId: number
  @IsInt() lensId: number
  @IsIn(GUARDS) guard: GuardName
}

export const CAUSE_KINDS = [...COMPLAINT_KINDS, 'guard'] as const

/** Something that a page complains of. */
export class ComplaintView {
  @IsIn(COMPLAINT_KINDS) kind: (typeof COMPLAINT_KINDS)[number]
  @IsString() text: string
  /** Whether the sweep before did not hear it; null where there is none. */
  @IsOptional() @IsBoolean() isNew: boolean | null
}

/** An add-on that is another version than it was in the sweep before. */
export class ChangedAddOn {
  @IsString() slug: string
  @IsString() name: string
  /** Null where it was not there, or is not any more. */
  @IsOptional() @IsString() from: string | null
  @IsOptional() @IsString() to: string | null
}

export const STAGE_OUTCOMES = ['found', 'without', 'never'] as const

/** The search among add-ons, or among features or files of one. */
export class CauseStageView {
  @IsIn(CAUSE_LEVELS) level: CauseLevel
  /** The likeliest first. */
  @ValidateNested({ each: true }) @Type(() => SuspectView) suspects: SuspectView[]
  /** Names of the same, where they have any. */
  @IsString({ each: true }) names: string[]
  /** Whether it is asked what mends it by being put back or left out, and not what it shows with. */
  @IsBoolean() mends: boolean
  /** Sets that were there, and whether the page complained with just them; of what mends, whether it was well again by them. */
  @ValidateNested({ each: true }) @Type(() => TriedDrafts) tries: TriedDrafts[]
  /** What is being tried; null while nothing is. */
  @IsOptional() @IsArray() @IsString({ each: true }) asking: string[] | null
  @IsOptional() @IsIn(STAGE_OUTCOMES) outcome: CauseStage['outcome']
  /** The fewest without any of which it does not complain. */
  @IsString({ each: true }) found: string[]
}

export class GuiltyAddOn {
  @IsString() slug: string
  @IsString() name: string
  @IsOptional() @IsString() version: string | null
}

/** The search for what a live page complains for. No visitor gets any of what is tried. */
export class CauseSearch {
  @IsInt() id: number
  @IsInt() pageId: number
  @IsInt() lensId: number
  @IsString() lens: string
  @IsIn(CAUSE_KINDS) kind: (typeof CAUSE_KINDS)[number]
  @IsString() text: string
  /** Of a guard: its name, and the round in which it failed. */
  @IsOptional() @IsIn(GUARDS) guard: GuardName | null
  @IsOptional() @IsInt() roundId: number | null
  @IsIn(SEARCH_STATES) state: (typeof SEARCH_STATES)[number]
  @IsOptional() @IsString() failure: string | null
  @ValidateNested({ each: true }) @Type(() => CauseStageView) stages: CauseStageView[]
  /** Where in which file it came up, as `address:line:column`; null where the browser did not tell. */
  @IsOptional() @IsString() place: string | null
  /** The add-ons that it was found to come from, as they are now. */
  @ValidateNested({ each: true }) @Type(() => GuiltyAddOn) guilty: GuiltyAddOn[]
  @IsDateString() startedAt: string
  @IsOptional() @IsDateString() finishedAt: string | null
}

export const SMALLER_STATES = ['none', 'waiting', 'done'] as const

/** A page that complains, cut down to what it complains for. */
export class SmallerPage {
  @IsIn(SMALLER_STATES) state: (typeof SMALLER_STATES)[number]
  @IsOptional() @IsString() failure: string | null
  /** Times that a part of it was read so far. */
  @IsInt() readings: number
  /** Elements and texts of the whole document, and of the smallest so far that complains. */
  @IsInt() parts: number
  @IsInt() left: number
  /** Of the document, bytes. */
  @IsInt() wholeBytes: number
  /** Of the smallest so far, bytes; null before there is any. */
  @IsOptional() @IsInt() bytes: number | null
  /** Its source, where it is short enough to be read; longer ones are taken as a file. */
  @IsOptional() @IsString() html: string | null
}

/** What was looked into of a round, and what changed at the site since its pages were as they should be. */
export class RoundCauses {
  @ValidateNested({ each: true }) @Type(() => ChangedAddOn) changed: ChangedAddOn[]
  /** The newest first. */
  @ValidateNested({ each: true }) @Type(() => CauseSearch) searches: CauseSearch[]
}

/** What a page complains of, beside what it complained of in the sweep before. */
export class PageComplaints {
  @ValidateNested({ each: true }) @Type(() => ComplaintView) complaints: ComplaintView[]
  /** When the page was read last; null where it never was. */
  @IsOptional() @IsDateString() readAt: string | null
  /** When the sweep before was; null where the page was in none. */
  @IsOptional() @IsDateString() earlierAt: string | null
  /** What changed at the site between the two. */
  @ValidateNested({ each: true }) @Type(() => ChangedAddOn) changed: ChangedAddOn[]
  /** The newest first. */
  @ValidateNested({ each: true }) @Type(() => CauseSearch) searches: CauseSearch[]
}

export class ComplainingPage {
  @IsInt() id: number
  @IsString() path: string
  @IsString() title: string
}

/** Something that pages complain of, and did not in the sweep before. */
export class NewComplaintView {
  @IsIn(COMPLAINT_KINDS) kind: (typeof COMPLAINT_KINDS)[number]
  @IsString() text: string
  @ValidateNested({ each: true }) @Type(() => ComplainingPage) pages: ComplainingPage[]
}

/** What pages of a site complain of since the sweep before. */
export class SiteComplaints {
  /** When the sweep before was; null where there is none to compare with. */
  @IsOptional() @IsDateString() earlierAt: string | null
  @ValidateNested({ each: true }) @Type(() => NewComplaintView) news: NewComplaintView[]
}
