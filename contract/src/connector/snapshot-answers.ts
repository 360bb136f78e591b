import { Type } from '../nested/type.js'
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsDateString,
  IsInt,
  IsOptional,
  IsString,
  Length,
  MaxLength,
  Min,
  ValidateNested,
} from 'class-validator'

export class SnapshotAnswer {
  @IsInt() @Min(1) id: number = 1
  @IsString() @Length(1, 200) name: string = ''
  @IsDateString() madeAt: string = ''
  @IsInt() @Min(0) bytes: number = 0
}

export class SnapshotsAnswer {
  @IsArray()
  @ArrayMaxSize(200)
  @ValidateNested({ each: true })
  @Type(() => SnapshotAnswer)
  snapshots: SnapshotAnswer[] = []
}

class SnapshotPartNow {
  @IsInt() @Min(0) rows: number = 0
  @IsBoolean() same: boolean = true
}

class SnapshotPartAnswer {
  @IsString() @Length(1, 200) name: string = ''
  /** Slug of the add-on that it belongs to; empty for the site's own. */
  @IsString() @MaxLength(200) of: string = ''
  @IsInt() @Min(0) rows: number = 0
  @IsString() @Length(1, 200) checksum: string = ''
  /** Whether it still is what was written when the snapshot was made. */
  @IsBoolean() sound: boolean = true
  /** The table as it is now; none where there is no such table any more. */
  @IsOptional() @ValidateNested() @Type(() => SnapshotPartNow) now?: SnapshotPartNow | null
}

class NewerTableAnswer {
  @IsString() @Length(1, 200) name: string = ''
  /** Slug of the add-on that it belongs to; empty for the site's own. */
  @IsString() @MaxLength(200) of: string = ''
  @IsInt() @Min(0) rows: number = 0
}

export class SnapshotInsideAnswer {
  @IsInt() @Min(1) id: number = 1
  @IsArray()
  @ArrayMaxSize(20_000)
  @ValidateNested({ each: true })
  @Type(() => SnapshotPartAnswer)
  parts: SnapshotPartAnswer[] = []
  /** Tables that came since: they go when all of it is put back. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(20_000)
  @ValidateNested({ each: true })
  @Type(() => NewerTableAnswer)
  newer?: NewerTableAnswer[]
}

export class RestoredAnswer {
  @IsInt() @Min(1) restored: number = 1
}
