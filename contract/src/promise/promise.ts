import { Type } from '../nested/type.js'
import { IsDateString, IsIn, IsInt, IsNumber, IsOptional, IsString, ValidateNested } from 'class-validator'
import type { PromiseWord } from '@unvelt/core'

export const PROMISE_KINDS = ['picture', 'file'] as const
export type PromiseKind = (typeof PROMISE_KINDS)[number]

export class PromisesQuery {
  @IsIn(PROMISE_KINDS) kind: PromiseKind
}

/** What was said that could be spared of a file, and what a later sweep found of it; bytes each time it is fetched. */
export class CameOfFile {
  @IsString() url: string
  @IsDateString() madeAt: string
  /** Of its body when it was said: what was looked at since weighs something else. */
  @IsInt() bodyBytes: number
  @IsInt() bytes: number
  @IsInt() saving: number
  @IsIn(['kept', 'in part', 'not yet', 'heavier', 'gone']) word: PromiseWord
  @IsInt() came: number
  /** Under which address it comes now; null where nothing does. */
  @IsOptional() @IsString() now: string | null
  /** Bytes in 1,000 page views. */
  @IsNumber() spared: number
}

/** What came of all that was said that could be spared. */
export class Promises {
  /** The sweep that tells; null where none came since. */
  @IsOptional() @IsInt() sweepId: number | null
  /** Those of which something came, what spares the most first. */
  @ValidateNested({ each: true }) @Type(() => CameOfFile) found: CameOfFile[]
  /** Files of which nothing came yet, and those that no sweep has met since. */
  @IsInt() notYet: number
  @IsInt() toCome: number
}
