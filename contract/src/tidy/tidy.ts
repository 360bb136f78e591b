import { Type } from '../nested/type.js'
import {
  ArrayMaxSize,
  IsArray,
  IsDateString,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Length,
  Max,
  MaxLength,
  Min,
  ValidateNested,
} from 'class-validator'

export class KeepingAge {
  @IsInt() olderThanDays: number
  @IsInt() rows: number
  @IsInt() bytes: number
}

/** A sort of thing that the CMS itself keeps and nobody may need. */
export class Keeping {
  @IsString() id: string
  @IsString() name: string
  /** Who would know, before any of it goes. */
  @IsString() ask: string
  /** All of it first, then what of it is older. */
  @ValidateNested({ each: true }) @Type(() => KeepingAge) ages: KeepingAge[]
}

/** A table that is mostly air. */
export class AiryTable {
  @IsString() name: string
  /** Whose it is, by name. */
  @IsString() of: string
  @IsInt() bytes: number
  /** What would be given back to the disk. */
  @IsInt() air: number
}

export const TIDY_STATES = ['running', 'done', 'failed'] as const

/** Something that was tidied up at a site, or is being. */
export class Tidying {
  @IsInt() id: number
  @IsString() what: string
  @IsIn(TIDY_STATES) state: (typeof TIDY_STATES)[number]
  /** From which snapshot it could come back; null where nothing was taken away. */
  @IsOptional() @IsInt() snapshotId: number | null
  @IsOptional() @IsString() said: string | null
  @IsString() who: string
  @IsDateString() askedAt: string
  @IsOptional() @IsDateString() finishedAt: string | null
}

export class SiteKeepings {
  @ValidateNested({ each: true }) @Type(() => Keeping) keepings: Keeping[]
  @ValidateNested({ each: true }) @Type(() => AiryTable) airy: AiryTable[]
  /** The newest first. */
  @ValidateNested({ each: true }) @Type(() => Tidying) tidyings: Tidying[]
}

/** Either a sort of thing that is older than so many days goes, or tables give their air back. */
export class TidyRequest {
  @IsOptional() @IsString() @Length(1, 100) keeping?: string
  @IsOptional() @IsInt() @Min(0) @Max(36_500) olderThanDays?: number
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(200)
  @IsString({ each: true })
  @Length(1, 200, { each: true })
  tables?: string[]
  @IsOptional() @IsString() @MaxLength(200) who?: string
}
