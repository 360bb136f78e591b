import { IsFigures, IsProofFigures } from '../maps/maps.js'
import { Type } from '../nested/type.js'
import { IsInt, IsString, ValidateNested, IsOptional, IsNumber, Max, Min } from 'class-validator'
import { Page } from '../page/page.js'
import { Sweep } from '../sweep/sweep.js'

/** Before and after of one measure on one page. Medians; the interval is the difference's, 95 %. */
export class ProofFigure {
  @IsOptional() @IsNumber() before: number | null
  @IsOptional() @IsNumber() after: number | null
  /** After less before, drift over the readings taken off. */
  @IsOptional() @IsNumber() difference: number | null
  @IsOptional() @IsNumber() low: number | null
  @IsOptional() @IsNumber() high: number | null
  @IsString() word: string
  /** Readings a side that a word still lacks. */
  @IsInt() more: number
  /** Readings of either side, so that nobody takes one for the truth. */
  @IsNumber({}, { each: true }) beforeReadings: number[]
  @IsNumber({}, { each: true }) afterReadings: number[]
}

export class ProofPage {
  @ValidateNested() @Type(() => Page) page: Page
  @IsProofFigures() figures: Record<string, ProofFigure>
  /** The differences that were promised when it was put live, by measure; nothing where none was. */
  @IsFigures() predicted: Record<string, number>
}

export class Proof {
  @IsInt() id: number
  @IsString() title: string
  @IsInt() fromVersion: number
  @IsInt() toVersion: number
  @ValidateNested() @Type(() => Sweep) sweep: Sweep
  @ValidateNested({ each: true }) @Type(() => ProofPage) pages: ProofPage[]
}

/** What a change came to in the mean of its pages; after less before. */
export class ProofGain {
  @IsInt() pages: number
  /** By measure; what was not read on any page is left out. */
  @IsFigures() differences: Record<string, number>
  /** Measures of which that is more than chance, on one page at least. */
  @IsString({ each: true }) sure: string[]
  /** Figures of all pages that are better, and that are worse, by more than chance. */
  @IsInt() better: number
  @IsInt() worse: number
}

/** A proof as it stands in the list of all. */
export class ProofSummary {
  @IsInt() id: number
  @IsString() title: string
  @IsInt() fromVersion: number
  @IsInt() toVersion: number
  @ValidateNested() @Type(() => Sweep) sweep: Sweep
  /** Null before its first reading. */
  @IsOptional() @ValidateNested() @Type(() => ProofGain) gain: ProofGain | null
}

export const PROOF_REPEATS = 5

/** How often each page of a proof is read again, on either side. */
export class MoreReadings {
  @IsOptional() @IsInt() @Min(1) @Max(20) times?: number
}
