import { IsProofFigures } from '../maps/maps.js'
import { Type } from '../nested/type.js'
import {
  ArrayMaxSize,
  IsArray,
  IsDateString,
  IsInt,
  IsOptional,
  IsString,
  Length,
  Max,
  Min,
  ValidateNested,
} from 'class-validator'
import { ProofFigure } from '../proof/proof.js'

export const WITHOUT_REPEATS = 5

/** Reads a page as it is and without outsiders, in turn. */
export class WithoutRequest {
  /** The payers whose hosts are left out; all outsiders without any. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(200)
  @IsString({ each: true })
  @Length(1, 300, { each: true })
  payers?: string[]
  @IsOptional() @IsInt() @Min(3) @Max(20) repeats?: number
}

/** What a page would be without some outsiders. Before is with them, after without. */
export class Without {
  @IsInt() id: number
  /** Empty for all outsiders. */
  @IsString({ each: true }) payers: string[]
  /** Hosts that were kept from answering. */
  @IsString({ each: true }) hosts: string[]
  /** Readings still to come. */
  @IsInt() underWay: number
  @IsDateString() takenAt: string
  @IsOptional() @IsString() failure: string | null
  @IsProofFigures() figures: Record<string, ProofFigure>
  /** What the page complains of only without them. */
  @IsString({ each: true }) complaints: string[]
}

/** An outsider of a page, as a group that can be left out. */
export class OutsiderGroup {
  @IsString() payer: string
  @IsString({ each: true }) hosts: string[]
  @IsInt() requests: number
}

export class WithoutView {
  @ValidateNested({ each: true }) @Type(() => OutsiderGroup) groups: OutsiderGroup[]
  /** The newest first. */
  @ValidateNested({ each: true }) @Type(() => Without) taken: Without[]
}
