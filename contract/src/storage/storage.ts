import { Type } from '../nested/type.js'
import {
  IsBoolean,
  IsDateString,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Length,
  Max,
  Min,
  ValidateIf,
  ValidateNested,
} from 'class-validator'

export const SWEEP_KEPT = ['running', 'proof', 'weigh-in', 'gain'] as const

/** What one sweep takes in the database. */
export class StoredSweep {
  @IsInt() id: number
  @IsIn(['survey', 'proof', 'weigh-in', 'shares']) purpose: string
  @IsOptional() @IsString() lens: string | null
  @IsDateString() startedAt: string
  /** Pages and readings that are kept of it. */
  @IsInt() pages: number
  @IsInt() readings: number
  @IsInt() bytes: number
  /** Why it can't be deleted by itself; null where it can. */
  @IsOptional() @IsIn(SWEEP_KEPT) keptFor: (typeof SWEEP_KEPT)[number] | null
  /** What is told by it: a retirement by its add-on's name. */
  @IsOptional() @IsString() tells: string | null
  /** Whether its readings are kept, and not only what they came to. */
  @IsBoolean() inFull: boolean
  /** Whether it is what screens show. */
  @IsBoolean() shown: boolean
}

/** What a site takes in the database. */
export class Storage {
  @ValidateNested({ each: true }) @Type(() => StoredSweep) sweeps: StoredSweep[]
  /** So many sweeps a lens are kept in full; null for all. */
  @IsOptional() @IsInt() keepFull: number | null
  /** Rehearsals and rounds of guards, with their pictures. */
  @IsInt() rehearsals: number
  @IsInt() rehearsalBytes: number
  /** Sum of all this, in bytes. */
  @IsInt() bytes: number
}

/** Whoever deletes a site says which. */
export class SiteFarewell {
  @IsString() @Length(1, 500) name: string
}

/** Of how many sweeps a lens more is kept than what they came to; null for all. */
export class KeepFull {
  @ValidateIf(({ keepFull }: KeepFull) => keepFull !== null)
  @IsInt()
  @Min(1)
  @Max(1000)
  keepFull: number | null
}

export class WouldGo {
  /** Their numbers, rising. */
  @IsInt({ each: true }) sweeps: number[]
  @IsInt() bytes: number
}
