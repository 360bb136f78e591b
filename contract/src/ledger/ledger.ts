import { Type } from 'class-transformer'
import { IsInt, IsOptional, IsString, ValidateNested } from 'class-validator'
import { Page } from '../page/page.js'
import { Sweep } from '../sweep/sweep.js'

export class LedgerPayer {
  @IsString() slug: string
  @IsString() name: string
  @IsString() kind: string
  @IsOptional() @IsString() version: string | null
}

export class LedgerMark {
  /** Index into `pages` and `payers`. */
  @IsInt() page: number
  @IsInt() payer: number
  @IsString() effect: string
}

/**
 * The ledger of one sweep under one lens, as columns: entry i of `cellPage`, `cellPayer` and of every list in `values`
 * belong together. Cells without a toll are left out.
 */
export class Ledger {
  @ValidateNested() @Type(() => Sweep) sweep: Sweep | null
  @ValidateNested({ each: true }) @Type(() => Page) pages: Page[]
  @ValidateNested({ each: true }) @Type(() => LedgerPayer) payers: LedgerPayer[]
  @IsInt({ each: true }) cellPage: number[]
  @IsInt({ each: true }) cellPayer: number[]
  values: Record<string, number[]>
  /** Pages that have no reading in this sweep that succeeded. */
  @IsInt({ each: true }) unreadPages: number[]
  @ValidateNested({ each: true }) @Type(() => LedgerMark) live: LedgerMark[]
  @ValidateNested({ each: true }) @Type(() => LedgerMark) drafts: LedgerMark[]
}
