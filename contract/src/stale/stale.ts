import {
  ArrayMaxSize,
  IsArray,
  IsDateString,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Max,
  ValidateNested,
} from 'class-validator'
import { Type } from '../nested/type.js'

export const STALE_KINDS = ['rules', 'updated', 'features', 'on', 'off', 'came', 'went', 'words'] as const
export type StaleKind = (typeof STALE_KINDS)[number]

/** Something that was changed after pages were read. */
export class StaleCauseView {
  @IsIn(STALE_KINDS) kind: StaleKind
  /** Of the add-on; of a change of rules, what it was. Empty for words. */
  @IsString() name: string
  @IsOptional() @IsString() slug: string | null
  /** Of a change of rules, the version that it made. */
  @IsOptional() @IsInt() version: number | null
  /** Of an update. */
  @IsOptional() @IsString() from: string | null
  @IsOptional() @IsString() to: string | null
  /** Who did it, as far as anybody knows. */
  @IsArray() @IsString({ each: true }) by: string[]
  /** When, where that is known. */
  @IsOptional() @IsDateString() at: string | null
  @IsInt() pages: number
}

export class StalePage {
  @IsInt() id: number
  @IsString() path: string
  /** Places in the list of causes. */
  @IsArray() @IsInt({ each: true }) causes: number[]
}

/** Which figures of a sweep hold no longer, and why. */
export class Stale {
  @IsInt() sweepId: number
  /** Of so many that were read. */
  @IsInt() pagesRead: number
  @ValidateNested({ each: true }) @Type(() => StaleCauseView) causes: StaleCauseView[]
  @ValidateNested({ each: true }) @Type(() => StalePage) pages: StalePage[]
  /** What stands in the way of reading just these again; null where nothing does. */
  @IsOptional() @IsString() whyNotAgain: string | null
}

export class ReadAgainRequest {
  /** Of what is stale, just these pages; all of them without. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(5000)
  @IsInt({ each: true })
  @Max(2_147_483_647, { each: true })
  pageIds?: number[]
}
