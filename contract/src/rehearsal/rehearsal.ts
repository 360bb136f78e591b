import { Type } from '../nested/type.js'
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsDateString,
  IsIn,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  Length,
  ValidateNested,
} from 'class-validator'
import { GUARDS, type GuardName } from '@unvelt/core'
import { CulpritSearch } from '../culprit/culprit.js'
import { IsFigures, IsProofFigures } from '../maps/maps.js'
import { ProofFigure } from '../proof/proof.js'
import { RuleView } from '../rule/rule.js'

export const REHEARSAL_MODES = ['guards', 'times'] as const
export type RehearsalMode = (typeof REHEARSAL_MODES)[number]
export const REHEARSAL_STATES = ['running', 'done', 'stopped', 'failed'] as const
export type RehearsalState = (typeof REHEARSAL_STATES)[number]

export class RehearsalRequest {
  /** Whether times are to be told, too, for which each page is read many times; guards alone without. */
  @IsOptional() @IsIn(REHEARSAL_MODES) mode?: RehearsalMode
  /** Only these pages; by what the drafts touch without. */
  @IsOptional() @IsArray() @ArrayMaxSize(200) @IsInt({ each: true }) pageIds?: number[]
  /** Sets aside what breaks a guard, and rehearses the rest again, until what is left passes. */
  @IsOptional() @IsBoolean() best?: boolean
}

/** Guards on the live site as it is. */
export class RoundRequest {
  /** Only these pages; of each kind a few without. */
  @IsOptional() @IsArray() @ArrayMaxSize(200) @IsInt({ each: true }) pageIds?: number[]
}

/** What tells a round of guards on the live site from a rehearsal. */
export class LiveRound {
  /** The newest round that it is held against; null where there was none. */
  @IsOptional() @IsInt() against: number | null
  /** What it saw is as it should be: later ones are held against it. */
  @IsBoolean() sound: boolean
}

export class FailedStepQuery {
  @IsString() @Length(1, 200) step: string
}

/** A rehearsal that throws out what breaks a guard. */
export class BestRound {
  /** From 1. */
  @IsInt() round: number
  /** The rehearsal before, of the drafts with those that broke something. */
  @IsOptional() @IsInt() after: number | null
  /** The rehearsal of what was left; null while there is none. */
  @IsOptional() @IsInt() next: number | null
}

/** A difference that somebody has looked at and accepts, for these drafts on this page. */
export class AcceptedDifference {
  @IsString() note: string
  @IsDateString() acceptedAt: string
}

/** What one guard found on one page. */
export class GuardView {
  @IsIn(GUARDS) guard: GuardName
  @IsIn(['holds', 'fails', 'aside', 'unknown']) outcome: 'holds' | 'fails' | 'aside' | 'unknown'
  /** What is there without the drafts and not with them. */
  @IsString({ each: true }) gone: string[]
  /** What came with the drafts. */
  @IsString({ each: true }) came: string[]
  /** Steps that fail without the drafts as well. */
  @IsOptional() @IsString({ each: true }) anyway?: string[]
  /** How much differs, of pictures and shifts: a share of 1, or the layout shift. */
  @IsOptional() @IsNumber() size?: number
  @IsOptional() @ValidateNested() @Type(() => AcceptedDifference) accepted: AcceptedDifference | null
}

/** Where the pictures differ: CSS pixels of the page. */
export class PictureBox {
  @IsNumber() x: number
  @IsNumber() y: number
  @IsNumber() width: number
  @IsNumber() height: number
}

/** One page under one lens, with the drafts and without them. */
export class RehearsedPage {
  @IsInt() pageId: number
  @IsString() path: string
  @IsString() title: string
  @IsString() kind: string
  @IsInt() lensId: number
  @IsString() lens: string
  @IsIn(['waiting', 'done', 'failed']) state: 'waiting' | 'done' | 'failed'
  @IsOptional() @IsString() failure: string | null
  @ValidateNested({ each: true }) @Type(() => GuardView) guards: GuardView[]
  /** Addresses that are not asked for any more, and those that are asked for in addition. */
  @IsString({ each: true }) went: string[]
  @IsString({ each: true }) cameToo: string[]
  /** Steps that failed, of which there is a picture. */
  @IsString({ each: true }) failedSteps: string[]
  /** Files of what is to go that are asked for all the same. */
  @IsString({ each: true }) stayed: string[]
  /** What the drafts were to spare here, by measure; null where it could not be predicted. */
  @IsOptional() @IsFigures() predicted: Record<string, number> | null
  /** Before and after, by measure. Empty until it is read. */
  @IsProofFigures() measured: Record<string, ProofFigure>
  /** Size of its pictures; null where it has none. */
  @IsOptional() @ValidateNested() @Type(() => PictureBox) picture: PictureBox | null
  @ValidateNested({ each: true }) @Type(() => PictureBox) boxes: PictureBox[]
}

/** A rehearsal as lists show it. */
export class Rehearsal {
  @IsInt() id: number
  @IsInt() siteId: number
  /** The drafts in words. */
  @IsString() what: string
  @IsIn(REHEARSAL_MODES) mode: RehearsalMode
  @IsIn(REHEARSAL_STATES) state: RehearsalState
  /** Why it ended before its end. */
  @IsOptional() @IsString() failure: string | null
  /** By whom the drafts were applied: the site itself, core's rewriter before the browser, or nobody, since they were live. */
  @IsIn(['site', 'rewriter', 'live']) mechanism: 'site' | 'rewriter' | 'live'
  @IsDateString() startedAt: string
  @IsOptional() @IsDateString() finishedAt: string | null
  /** Pages times lenses, and how many of them are read. */
  @IsInt() pages: number
  @IsInt() pagesDone: number
  /** Guards that fail, accepted ones aside; and pages that could not be read. */
  @IsInt() failing: number
  @IsInt() accepted: number
  @IsInt() unread: number
  /** Why it says nothing of what would go live now; null while it does. */
  @IsOptional() @IsString() stale: string | null
  /** All is read, nothing fails that was not accepted, and it is of what would go live now. */
  @IsBoolean() passed: boolean
  /** The retirement that it was made for; null where it is of the drafts. */
  @IsOptional() @IsInt() retirementId: number | null
  /** The add-on that effects are tried for, by its slug; null where it is of the drafts. */
  @IsOptional() @IsString() effectOf: string | null
  /** The change of which it played the guards once that was live. */
  @IsOptional() @IsInt() deploymentId: number | null
  /** Of guards that are played on the live site as it is, without drafts; null for any other. */
  @IsOptional() @ValidateNested() @Type(() => LiveRound) round: LiveRound | null
  /** Null for one that leaves the drafts as they are. */
  @IsOptional() @ValidateNested() @Type(() => BestRound) best: BestRound | null
}

/** All of a rehearsal. */
export class RehearsalSheet extends Rehearsal {
  /** Pages that the drafts touch, for any visit; and how many of them were looked at. */
  @IsInt() touched: number
  @IsInt() lookedAt: number
  @ValidateNested({ each: true }) @Type(() => RuleView) drafts: RuleView[]
  @ValidateNested({ each: true }) @Type(() => RehearsedPage) each: RehearsedPage[]
  /** What was looked for that breaks a guard, the oldest first. */
  @ValidateNested({ each: true }) @Type(() => CulpritSearch) searches: CulpritSearch[]
}

export class AcceptRequest {
  @IsInt() pageId: number
  @IsInt() lensId: number
  @IsIn(GUARDS) guard: GuardName
  @IsString() @Length(1, 2000) note: string
  /** On all views of the rehearsal where this guard says nothing that it does not say here. */
  @IsOptional() @IsBoolean() everywhere?: boolean
}

export class UnacceptRequest {
  @IsInt() pageId: number
  @IsInt() lensId: number
  @IsIn(GUARDS) guard: GuardName
}
