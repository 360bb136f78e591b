import { Type } from '../nested/type.js'
import {
  IsBoolean,
  IsDateString,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Length,
  MaxLength,
  ValidateNested,
} from 'class-validator'

/** A snapshot as the site lists it. */
export class SiteSnapshot {
  @IsInt() id: number
  @IsString() name: string
  @IsDateString() madeAt: string
  @IsInt() bytes: number
}

/** One table of a snapshot, and what it has become since. */
export class SnapshotTable {
  @IsString() name: string
  /** Whose it is, by name; empty for the site's own. */
  @IsString() of: string
  /** Slug of the same. */
  @IsString() addOn: string
  @IsInt() rows: number
  /** Whether what is kept is what was written. */
  @IsBoolean() sound: boolean
  /** Rows that the site's table has today; null where it has none such. */
  @IsOptional() @IsInt() rowsNow: number | null
  /** Whether it is the same today, row for row. */
  @IsBoolean() same: boolean
}

/** A table that came after a snapshot was made. */
export class NewerTable {
  @IsString() name: string
  /** Whose it is, by name; empty for the site's own. */
  @IsString() of: string
  @IsInt() rows: number
}

export class SnapshotInside {
  @IsInt() id: number
  @IsBoolean() sound: boolean
  @ValidateNested({ each: true }) @Type(() => SnapshotTable) tables: SnapshotTable[]
  /** What goes when all of it is put back; null where the site doesn't tell. */
  @IsOptional() @ValidateNested({ each: true }) @Type(() => NewerTable) newer: NewerTable[] | null
}

export const RESTORE_STATES = ['running', 'done', 'failed'] as const

/** Everything, or what one add-on had, put back from a snapshot. */
export class SiteRestore {
  @IsInt() id: number
  @IsInt() snapshotId: number
  @IsString() snapshotName: string
  /** By name; null where all of it was put back. */
  @IsOptional() @IsString() addOn: string | null
  @IsIn(RESTORE_STATES) state: (typeof RESTORE_STATES)[number]
  /** What came of it, in a sentence. */
  @IsOptional() @IsString() said: string | null
  @IsString() who: string
  @IsDateString() askedAt: string
  @IsOptional() @IsDateString() finishedAt: string | null
}

export class SiteSnapshots {
  @ValidateNested({ each: true }) @Type(() => SiteSnapshot) snapshots: SiteSnapshot[]
  /** The newest first. */
  @ValidateNested({ each: true }) @Type(() => SiteRestore) restores: SiteRestore[]
}

export class RestoreRequest {
  /** The slug of one add-on; everything without. */
  @IsOptional() @IsString() @Length(1, 200) addOn?: string
  @IsOptional() @IsString() @MaxLength(200) who?: string
}
