import { Type } from '../nested/type.js'
import {
  IsBoolean,
  IsDateString,
  IsIn,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  Length,
  Matches,
  Max,
  Min,
  ValidateNested,
} from 'class-validator'
import type { Measure } from '@unvelt/core'
import { IsFigures } from '../maps/maps.js'

const LARGEST_ID = 2_147_483_647

/** Which two sweeps, and what of them. They may be of two sites, as a copy and the live one: pages are matched by path. */
export class ComparisonQuery {
  @Type(() => Number) @IsInt() @Min(1) @Max(LARGEST_ID) now: number
  @Type(() => Number) @IsInt() @Min(1) @Max(LARGEST_ID) then: number
  /** Pages of one kind only. */
  @IsOptional() @IsString() @Length(1, 200) kind?: string
  /** One page only. */
  @IsOptional() @IsString() @Length(1, 2000) @Matches(/^\//) path?: string
  /** Whether pages count by their visits or all alike, as they do by themselves. */
  @IsOptional() @IsIn(['alike', 'visits']) weigh?: 'alike' | 'visits'
  /** Whether other companies’ hosts are counted in, as they are by themselves. */
  @IsOptional() @IsIn(['in', 'out']) outsiders?: 'in' | 'out'
}

/** What one side is, so that what differs besides is seen. */
export class ComparisonSide {
  @IsInt() sweepId: number
  @IsInt() siteId: number
  @IsString() site: string
  @IsDateString() at: string
  @IsString() status: string
  @IsString() lens: string
  @IsInt() repeats: number
  /** The rules' version; 0 where none held. */
  @IsInt() rulesVersion: number
  @IsInt() pages: number
}

/** Figures of either side, by measure. */
export class ComparedFigures {
  @IsFigures() then: Record<Measure, number>
  @IsFigures() now: Record<Measure, number>
}

export const PAYER_CHANGES = ['come', 'gone', 'updated', 'switched on', 'switched off'] as const

export class ComparedPayer extends ComparedFigures {
  @IsString() slug: string
  @IsString() name: string
  @IsString() kind: string
  /** What became of it between the sweeps, by the site's own word. */
  @IsOptional() @IsIn(PAYER_CHANGES) change: (typeof PAYER_CHANGES)[number] | null
  @IsOptional() @IsString() from: string | null
  @IsOptional() @IsString() to: string | null
}

export class ComparedPage extends ComparedFigures {
  /** Of the later sweep's site. */
  @IsInt() id: number
  @IsString() path: string
  @IsString() title: string
  @IsString() kind: string
  /** Its share of what is counted, 0 to 1. */
  @IsNumber() weight: number
}

/** What the mean page differs by in something that varies from reading to reading; the interval is a 95 % one. */
export class ComparedTime {
  @IsIn(['loadMs', 'serverMs']) measure: 'loadMs' | 'serverMs'
  @IsNumber() then: number
  @IsNumber() now: number
  @IsNumber() difference: number
  @IsOptional() @IsNumber() low: number | null
  @IsOptional() @IsNumber() high: number | null
  @IsIn(['better', 'worse', 'no measurable change', 'too small to matter']) word: string
  /** Pages that were read at least twice on either side. */
  @IsInt() pages: number
}

export class Comparison {
  @ValidateNested() @Type(() => ComparisonSide) then: ComparisonSide
  @ValidateNested() @Type(() => ComparisonSide) now: ComparisonSide
  /** Of the mean page of those that both have read. */
  @ValidateNested() @Type(() => ComparedFigures) mean: ComparedFigures
  @ValidateNested({ each: true }) @Type(() => ComparedTime) times: ComparedTime[]
  @ValidateNested({ each: true }) @Type(() => ComparedPayer) payers: ComparedPayer[]
  @ValidateNested({ each: true }) @Type(() => ComparedPage) pages: ComparedPage[]
  @IsString({ each: true }) onlyThen: string[]
  @IsString({ each: true }) onlyNow: string[]
  /** Kinds among the pages that both have read, whatever is asked for. */
  @IsString({ each: true }) kinds: string[]
  /** Whether visits are known, so that pages can be weighed by them. */
  @IsBoolean() visitsKnown: boolean
}
