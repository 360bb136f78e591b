import { Type } from '../nested/type.js'
import { IsDateString, IsIn, IsInt, IsNumber, IsOptional, IsString, Max, Min, ValidateNested } from 'class-validator'
import { ServerGroupView } from '../server-reading/server-reading.js'

export const DEFAULT_TRIES = 10

/** Tries every action of the site that many times. */
export class ActionRequest {
  @IsOptional() @IsInt() @Min(1) @Max(50) times?: number
}

/** Something that visitors or editors do, and what the server does for it. */
export class ActionView {
  @IsString() name: string
  @IsIn(['GET', 'POST']) method: 'GET' | 'POST'
  @IsString() path: string
  /** In whose role it was tried. */
  @IsString() as: string
  @IsOptional() @ValidateNested() @Type(() => ServerGroupView) work: ServerGroupView | null
  /** The most memory in use meanwhile, the middle of all tries, in bytes. */
  @IsOptional() @IsNumber() peakMemoryBytes: number | null
  @IsInt() failed: number
  @IsOptional() @IsString() failure: string | null
  /** The slowest try that is traced. */
  @IsOptional() @IsString() slowestTrace: string | null
}

/** What the server does beside making pages. */
export class ActionsView {
  /** Why there is nothing to try; null where there is. */
  @IsOptional() @IsString() cannot: string | null
  /** How many requests are still to come. */
  @IsInt() underWay: number
  @IsOptional() @IsDateString() takenAt: string | null
  @IsOptional() @IsString() failure: string | null
  @ValidateNested({ each: true }) @Type(() => ActionView) actions: ActionView[]
}
