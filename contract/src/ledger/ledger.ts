import { IsFigureLists } from '../maps/maps.js'
import { Type } from '../nested/type.js'
import { IsBoolean, IsInt, IsOptional, IsString, ValidateNested } from 'class-validator'
import { Page } from '../page/page.js'
import { WordColumns } from './word-columns.js'
import { Sweep } from '../sweep/sweep.js'

export class LedgerPayer {
  @IsString() slug: string
  @IsString() name: string
  @IsString() kind: string
  @IsOptional() @IsString() version: string | null
}

/**
 * The ledger of one sweep under one lens, but for its cells: those come as columns (`LEDGER_COLUMNS`), since there may be
 * half a million of them.
 */
export class Ledger {
  @ValidateNested() @Type(() => Sweep) sweep: Sweep | null
  @ValidateNested({ each: true }) @Type(() => Page) pages: Page[]
  @ValidateNested({ each: true }) @Type(() => LedgerPayer) payers: LedgerPayer[]
  /** Pages that have no reading in this sweep that succeeded. */
  @IsInt({ each: true }) unreadPages: number[]
  /** Pages of which no reading gave times: in a sweep that is under way they are to come. */
  @IsInt({ each: true }) untimedPages: number[]
  /** Effects of live rules, and of drafts. */
  @ValidateNested() @Type(() => WordColumns) live: WordColumns
  @ValidateNested() @Type(() => WordColumns) drafts: WordColumns
  /** What is known of use, where it is known. */
  @ValidateNested() @Type(() => WordColumns) use: WordColumns
  /** On how many pages that are not shown here each payer is in use or planned; in the order of the payers. */
  @IsInt({ each: true }) usedElsewhere: number[]
}

/** A file of an add-on, or a feature, with what it costs on each page; the lists belong together entry by entry. */
export class LedgerFile {
  @IsString() url: string
  @IsString() type: string
  @IsInt({ each: true }) pageIds: number[]
  @IsFigureLists() values: Record<string, number[]>
}

export class LedgerFeature {
  @IsString() slug: string
  @IsString() name: string
  @IsBoolean() on: boolean
  /** Whether the site can tell which pages use it. */
  @IsBoolean() told: boolean
  /** Pages whose content uses it. */
  @IsInt({ each: true }) usedOn: number[]
}

/** What stands below an add-on's row when it is opened. */
export class LedgerDetail {
  @ValidateNested({ each: true }) @Type(() => LedgerFeature) features: LedgerFeature[]
  @ValidateNested({ each: true }) @Type(() => LedgerFile) files: LedgerFile[]
}
