import { Type } from '../nested/type.js'
import { IsDateString, IsInt, IsNumber, IsOptional, IsString, Max, Min, ValidateNested } from 'class-validator'

export const DEFAULT_SERVER_READINGS = 10

/** Asks for the page that many times past the caches, and as often with them. */
export class ServerReadingRequest {
  @IsOptional() @IsInt() @Min(1) @Max(50) times?: number
}

export class SpreadView {
  @IsInt() count: number
  @IsNumber() median: number
  @IsNumber() least: number
  @IsNumber() most: number
}

export class ServerPayerView {
  @IsString() payer: string
  @IsNumber() serverMs: number
  @IsNumber() queries: number
  @IsNumber() queryMs: number
}

export class ServerGroupView {
  @ValidateNested() @Type(() => SpreadView) firstByte: SpreadView
  @IsNumber() bytes: number
  @IsOptional() @IsNumber() siteMs: number | null
  @IsOptional() @IsNumber() hostAndNetworkMs: number | null
  @ValidateNested({ each: true }) @Type(() => ServerPayerView) payers: ServerPayerView[]
}

/** A page asked for again and again without a browser. Times in ms. */
export class ServerReadings {
  /** How many requests are still to come. */
  @IsInt() underWay: number
  @IsOptional() @IsDateString() takenAt: string | null
  /** Answers that were made for the request. */
  @IsOptional() @ValidateNested() @Type(() => ServerGroupView) fresh: ServerGroupView | null
  /** Copies that a cache had kept. */
  @IsOptional() @ValidateNested() @Type(() => ServerGroupView) kept: ServerGroupView | null
  @IsOptional() @IsString() keptBecause: string | null
  @IsInt() failed: number
  @IsOptional() @IsString() failure: string | null
}
