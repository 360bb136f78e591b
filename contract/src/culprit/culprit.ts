import { Type } from '../nested/type.js'
import { IsArray, IsBoolean, IsDateString, IsIn, IsInt, IsOptional, IsString, ValidateNested } from 'class-validator'
import { GUARDS, type GuardName } from '@unvelt/core'

export const SUSPICIONS = ['named', 'its file', 'needed', 'changed', 'used', 'there'] as const
export const SEARCH_STATES = ['running', 'done', 'stopped', 'failed'] as const

/** Which guard of a rehearsed page it is about. */
export class CulpritRequest {
  @IsInt() pageId: number
  @IsInt() lensId: number
  @IsIn(GUARDS) guard: GuardName
}

/** A draft that touches the page, with what speaks against it. */
export class SuspectView {
  @IsString() id: string
  @IsIn(SUSPICIONS, { each: true }) reasons: (typeof SUSPICIONS)[number][]
}

/** The page as it was with just some of the drafts. */
export class TriedDrafts {
  @IsString({ each: true }) changes: string[]
  @IsBoolean() fails: boolean
  /** In so many readings. */
  @IsInt() readings: number
}

/** The search for those drafts that break something: the fewest that do. */
export class CulpritSearch {
  @IsInt() id: number
  @IsInt() pageId: number
  @IsString() path: string
  @IsInt() lensId: number
  @IsIn(GUARDS) guard: GuardName
  /** What was gone, or came. */
  @IsString({ each: true }) found: string[]
  @IsIn(SEARCH_STATES) state: (typeof SEARCH_STATES)[number]
  @IsOptional() @IsString() failure: string | null
  /** The likeliest first. */
  @ValidateNested({ each: true }) @Type(() => SuspectView) suspects: SuspectView[]
  @ValidateNested({ each: true }) @Type(() => TriedDrafts) tries: TriedDrafts[]
  /** What is being tried; null while nothing is. */
  @IsOptional() @IsArray() @IsString({ each: true }) asking: string[] | null
  /** The fewest drafts that break it; null until they are found. */
  @IsOptional() @IsArray() @IsString({ each: true }) culprits: string[] | null
  @IsDateString() startedAt: string
  @IsOptional() @IsDateString() finishedAt: string | null
}
