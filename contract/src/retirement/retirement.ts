import { Type } from '../nested/type.js'
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsBoolean,
  IsDateString,
  IsIn,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  Length,
  Matches,
  Max,
  MaxLength,
  Min,
  ValidateNested,
} from 'class-validator'
import {
  CANDIDATE_REASONS,
  LEFTOVER_SURENESS,
  RETIREMENT_STEPS,
  type CandidateReason,
  type LeftoverSureness,
  type RetirementStep,
} from '@unvelt/core'
import { RuleView } from '../rule/rule.js'

/** Costs in a thousand page views. Bytes, ms and counts. */
export class PerThousandView {
  @IsNumber() requests: number
  @IsNumber() transferBytes: number
  @IsNumber() serverMs: number
  @IsNumber() mainThreadMs: number
  @IsNumber() waitingMs: number
}

export class CandidateReasonView {
  @IsIn(CANDIDATE_REASONS) kind: CandidateReason
  @IsString({ each: true }) about: string[]
}

/** An add-on that may go for good, and what would go with it. */
export class CandidateView {
  @IsString() addon: string
  @IsString() name: string
  @ValidateNested({ each: true }) @Type(() => CandidateReasonView) reasons: CandidateReasonView[]
  @IsString() certainty: string
  @ValidateNested() @Type(() => PerThousandView) perThousand: PerThousandView
  @IsString({ each: true }) usedOn: string[]
  @IsInt() diskBytes: number
  @IsInt() tableBytes: number
  @IsInt() rows: number
  @IsInt() settings: number
  @IsString({ each: true }) tasks: string[]
}

export class FeatureName {
  @IsString() slug: string
  @IsString() name: string
}

/** Features that are switched on and that no content uses. */
export class IdleFeatures {
  @IsString() addon: string
  @IsString() name: string
  @ValidateNested({ each: true }) @Type(() => FeatureName) features: FeatureName[]
  /** So many of its features are switched on. */
  @IsInt() on: number
}

/** What has to be asked first. */
export class RetireQuestionView {
  @IsString() addon: string
  @IsString() name: string
  @IsIn(['works unseen', 'planned', 'needed', 'use not known']) why:
    'works unseen' | 'planned' | 'needed' | 'use not known'
  @IsString({ each: true }) about: string[]
}

/** Something at the site that belongs to nobody who is there. */
export class LeftoverView {
  @IsString() id: string
  @IsString() type: string
  @IsString() name: string
  @IsString() of: string
  @IsInt() bytes: number
  @IsOptional() @IsInt() rows: number | null
  /** The page in whose words it stands. */
  @IsOptional() @IsString() path: string | null
  /** Why it is thought to be nobody's, as the site says. */
  @IsArray() @IsString({ each: true }) because: string[]
  @IsOptional() @IsDateString() lastWritten: string | null
  @IsOptional() @IsDateString() lastRead: string | null
  /** By when it was last touched; ‘look first’ where that was lately, or after its owner went. */
  @IsIn(LEFTOVER_SURENESS) sureness: LeftoverSureness
}

export class RetirementStepView {
  @IsIn(RETIREMENT_STEPS) step: RetirementStep
  @IsIn(['done', 'now', 'later']) state: 'done' | 'now' | 'later'
  @IsOptional() @IsString() why: string | null
}

export const SUCCESSORS = ['nothing', 'built-in', 'add-on', 'server', 'other'] as const

export class Successor {
  @IsIn(SUCCESSORS) kind: (typeof SUCCESSORS)[number]
  /** Of another add-on: its slug. */
  @IsOptional() @IsString() @Length(1, 200) addon?: string
  @IsOptional() @IsString() @MaxLength(2000) note?: string
}

export class OwnersWord {
  @IsString() @Length(1, 200) who: string
  @IsString() @MaxLength(2000) note: string
  @IsDateString() at: string
}

/** A page that has to be changed by hand before it can do without. */
export class WorkPage {
  @IsInt() pageId: number
  @IsString() path: string
  @IsString() title: string
  /** Where it was seen in use, and how. */
  @IsString({ each: true }) because: string[]
  /** By the newest evidence it does without. */
  @IsBoolean() done: boolean
  @IsString() owner: string
  @IsOptional() @IsString() due: string | null
}

export class RetirementSnapshot {
  @IsInt() id: number
  @IsString() name: string
  @IsDateString() madeAt: string
  @IsInt() bytes: number
  @IsInt() rows: number
  @IsInt() tables: number
  @IsBoolean() sound: boolean
}

export class MissedRequestView {
  @IsString() path: string
  @IsInt() times: number
  @IsString({ each: true }) from: string[]
}

export class SearchedView {
  /** As it was typed. */
  @IsString() asked: string
  @IsInt() times: number
}

export class RetirementLogEntry {
  @IsDateString() at: string
  @IsString() said: string
  @IsString() who: string
}

/** Mean of the pages that were read before and after. */
export class RetirementGain {
  @IsInt() pages: number
  @IsNumber() requests: number
  @IsNumber() transferBytes: number
  @IsNumber() serverMs: number
  /** The sweeps that were compared. */
  @IsInt() before: number
  @IsInt() after: number
}

export const RETIREMENT_ACTS = ['snapshot', 'off', 'on', 'look', 'remove', 'clear', 'restore'] as const
export type RetirementAct = (typeof RETIREMENT_ACTS)[number]

/** The removal of one add-on, as lists show it. */
export class Retirement {
  @IsInt() id: number
  @IsString() slug: string
  @IsString() name: string
  @IsOptional() @IsString() version: string | null
  /** Features that are to go, where the add-on itself stays; null where all of it goes. */
  @IsOptional() @IsArray() @ValidateNested({ each: true }) @Type(() => FeatureName) features: FeatureName[] | null
  /** It went before Unvelt came; only what it left behind is to go. */
  @IsBoolean() wasGone: boolean
  @IsIn(['open', 'paused', 'done', 'cancelled']) state: 'open' | 'paused' | 'done' | 'cancelled'
  @ValidateNested({ each: true }) @Type(() => RetirementStepView) steps: RetirementStepView[]
  @IsDateString() openedAt: string
  @IsOptional() @IsDateString() finishedAt: string | null
  @IsOptional() @IsDateString() offAt: string | null
  @IsOptional() @IsDateString() removedAt: string | null
  @IsOptional() @IsDateString() watchUntil: string | null
  /** What is being done at the site; null while nothing is. */
  @IsOptional() @IsIn(RETIREMENT_ACTS) doing: RetirementAct | null
  @IsOptional() @IsString() failure: string | null
  /** What it cost in a thousand page views when this began. */
  @ValidateNested() @Type(() => PerThousandView) before: PerThousandView
  @IsOptional() @ValidateNested() @Type(() => RetirementGain) gain: RetirementGain | null
  /** It was retired, and the site has it again. */
  @IsBoolean() isBack: boolean
  /** Its hosts that the newest sweep has seen although it is gone. */
  @IsString({ each: true }) seenAgain: string[]
}

/** All of it. */
export class RetirementSheet extends Retirement {
  @IsBoolean() hasConnector: boolean
  @IsBoolean() isActive: boolean
  @IsBoolean() isInstalled: boolean
  @IsString({ each: true }) neededBy: string[]
  @IsString({ each: true }) needs: string[]
  /** Pages of whose use nothing is known. */
  @IsInt() useNotKnown: number
  @ValidateNested({ each: true }) @Type(() => WorkPage) worklist: WorkPage[]
  @IsOptional() @ValidateNested() @Type(() => Successor) successor: Successor | null
  @IsOptional() @ValidateNested() @Type(() => OwnersWord) word: OwnersWord | null
  @IsInt() watchDays: number
  @IsOptional() @ValidateNested() @Type(() => RetirementSnapshot) snapshot: RetirementSnapshot | null
  @IsOptional() @IsInt() rehearsalId: number | null
  @ValidateNested({ each: true }) @Type(() => MissedRequestView) missed: MissedRequestView[]
  /** What visitors looked for by its words since it was switched off. */
  @ValidateNested({ each: true }) @Type(() => SearchedView) searched: SearchedView[]
  /** Words that searches are looked through for. */
  @IsString({ each: true }) watchWords: string[]
  /** Live rules that are about it. */
  @ValidateNested({ each: true }) @Type(() => RuleView) rules: RuleView[]
  @IsOptional() @IsDateString() lookedAt: string | null
  @ValidateNested({ each: true }) @Type(() => LeftoverView) leftovers: LeftoverView[]
  @IsInt() tableBytes: number
  @IsInt() rows: number
  @ValidateNested({ each: true }) @Type(() => RetirementLogEntry) log: RetirementLogEntry[]
}

/** The place: what may go, what is on its way, what went, and what is left of others. */
export class Retirements {
  @ValidateNested({ each: true }) @Type(() => CandidateView) candidates: CandidateView[]
  @ValidateNested({ each: true }) @Type(() => IdleFeatures) idleFeatures: IdleFeatures[]
  @ValidateNested({ each: true }) @Type(() => RetireQuestionView) questions: RetireQuestionView[]
  @ValidateNested({ each: true }) @Type(() => Retirement) retirements: Retirement[]
  @IsOptional() @IsInt() sweepId: number | null
}

export class RetirementOpening {
  @IsString() @Length(1, 200) slug: string
  /** Only these of its features; all of it without. */
  @IsOptional() @IsArray() @ArrayMinSize(1) @ArrayMaxSize(500) @IsString({ each: true }) features?: string[]
  @IsOptional() @IsString() @MaxLength(200) who?: string
}

/** What the maintainer writes into a sheet. */
export class RetirementChange {
  @IsOptional() @ValidateNested() @Type(() => Successor) successor?: Successor | null
  /** Who has said that it may go; an empty name takes the word back. */
  @IsOptional() @IsString() @MaxLength(200) word?: string
  @IsOptional() @IsString() @MaxLength(2000) note?: string
  @IsOptional() @IsInt() @Min(0) @Max(365) watchDays?: number
  /** Words to look through searches for; none: those of its name. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(30)
  @IsString({ each: true })
  @Length(1, 60, { each: true })
  watchWords?: string[]
  /** Of a site that can make no snapshot: where the copy is that somebody made by hand; empty where there is none after all. */
  @IsOptional() @IsString() @MaxLength(500) copy?: string
  @IsOptional() @IsIn(['open', 'paused', 'cancelled', 'done']) state?: 'open' | 'paused' | 'cancelled' | 'done'
  @IsOptional() @IsString() @MaxLength(200) who?: string
}

export class WorkPageChange {
  @IsOptional() @IsString() @MaxLength(200) owner?: string
  @IsOptional() @Matches(/^(\d{4}-\d\d-\d\d)?$/, { message: 'due: expected a day, such as 2026-11-29' }) due?: string
}

export class RetirementDo {
  @IsIn(RETIREMENT_ACTS) act: RetirementAct
  /** For clear: which leftovers. */
  @IsOptional() @IsArray() @ArrayMaxSize(2000) @IsString({ each: true }) ids?: string[]
  @IsOptional() @IsString() @MaxLength(200) who?: string
}

/** Leftovers of the whole site, as it tells them. */
export class SiteLeftovers {
  @ValidateNested({ each: true }) @Type(() => LeftoverView) leftovers: LeftoverView[]
}
