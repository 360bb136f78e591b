import { Type } from '../nested/type.js'
import {
  ArrayMaxSize,
  IsArray,
  IsInt,
  IsString,
  Length,
  Matches,
  MaxLength,
  Min,
  ValidateNested,
} from 'class-validator'

const SLUG = /^[a-z0-9][a-z0-9_-]{0,99}$/

class KeepingAgeAnswer {
  @IsInt() @Min(0) olderThanDays: number = 0
  @IsInt() @Min(0) rows: number = 0
  @IsInt() @Min(0) bytes: number = 0
}

class KeepingAnswer {
  @Matches(SLUG, { message: 'id: expected small letters, digits, - and _' }) id: string = ''
  @IsString() @Length(1, 200) name: string = ''
  /** Who would know, before any of it goes. */
  @IsString() @MaxLength(500) ask: string = ''
  /** The whole of it first (older than 0 days), then what of it is older. */
  @IsArray()
  @ArrayMaxSize(20)
  @ValidateNested({ each: true })
  @Type(() => KeepingAgeAnswer)
  ages: KeepingAgeAnswer[] = []
}

/** What the CMS itself keeps and nobody may need. */
export class KeepingsAnswer {
  @IsArray() @ArrayMaxSize(100) @ValidateNested({ each: true }) @Type(() => KeepingAnswer) keepings: KeepingAnswer[] =
    []
}

export class KeepingsRemovedAnswer {
  @IsInt() @Min(0) removed: number = 0
}

class CompactedTableAnswer {
  @IsString() @Length(1, 200) name: string = ''
  @IsInt() @Min(0) before: number = 0
  @IsInt() @Min(0) after: number = 0
  /** For how long nobody could read or write it. */
  @IsInt() @Min(0) lockedMs: number = 0
}

export class CompactedAnswer {
  @IsArray()
  @ArrayMaxSize(500)
  @ValidateNested({ each: true })
  @Type(() => CompactedTableAnswer)
  tables: CompactedTableAnswer[] = []
}
