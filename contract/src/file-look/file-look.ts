import { Type } from '../nested/type.js'
import { IsBoolean, IsDateString, IsIn, IsInt, IsOptional, IsString, ValidateNested } from 'class-validator'

export const CODE_TYPES = ['script', 'stylesheet'] as const
export type CodeType = (typeof CODE_TYPES)[number]

/** The sizes of a file that was minified; bytes. */
export class MinifiedFile {
  @IsInt() plain: number
  @IsInt() gzip: number
  @IsInt() brotli: number
}

/** A script or style that a page loads, and what it could weigh; bytes of its body. */
export class LookedAtFile {
  @IsString() url: string
  @IsIn(CODE_TYPES) type: CodeType
  /** From one of the site’s own hosts, where somebody can do something about it. */
  @IsBoolean() isOwn: boolean
  /** As it came. */
  @IsInt() bytes: number
  /** In which way it came packed; empty where it did not. */
  @IsString() encoding: string
  @IsInt() plain: number
  @IsInt() gzip: number
  @IsInt() brotli: number
  @IsOptional() @ValidateNested() @Type(() => MinifiedFile) minified: MinifiedFile | null
  /** Seconds for which browsers keep it without asking again; null where nothing is said. */
  @IsOptional() @IsInt() keptSeconds: number | null
  /** Whether its address changes with its content. */
  @IsBoolean() hasFingerprint: boolean
  /** Why it was not looked at, or not minified. */
  @IsOptional() @IsString() why: string | null
}

/** The scripts and styles of a page, as they were at one time. */
export class FileLook {
  @IsInt() id: number
  @IsBoolean() underWay: boolean
  @IsDateString() takenAt: string
  @IsOptional() @IsString() failure: string | null
  /** How many there are to be looked at; null before that is known. */
  @IsOptional() @IsInt() toLookAt: number | null
  /** Those beyond the most that are looked at. */
  @IsInt() leftOut: number
  @ValidateNested({ each: true }) @Type(() => LookedAtFile) files: LookedAtFile[]
  /** Under so many bytes a saving is too small to matter: the least difference of what the files weigh together. */
  @IsInt() leastBytes: number
}

export class FileLookView {
  @IsOptional() @ValidateNested() @Type(() => FileLook) newest: FileLook | null
}
