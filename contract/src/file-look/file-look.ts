import { Type } from '../nested/type.js'
import { IsBoolean, IsDateString, IsIn, IsInt, IsNumber, IsOptional, IsString, ValidateNested } from 'class-validator'

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

/** A page whose files could not be weighed. */
export class UnlookedFiles {
  @IsInt() pageId: number
  @IsString() failure: string
}

/** A script or style over all pages that load it. */
export class SiteFile {
  @ValidateNested() @Type(() => LookedAtFile) file: LookedAtFile
  @IsString() payer: string
  @IsInt({ each: true }) pageIds: number[]
  /** Bytes that it could weigh, and what it spares by packing and beyond that by minifying. */
  @IsInt() bytes: number
  @IsInt() byPacking: number
  @IsInt() byMinifying: number
  /** Bytes in 1,000 page views, each of which fetches it. */
  @IsNumber() spared: number
  /** It has come otherwise since it was weighed. */
  @IsBoolean() changed: boolean
}

/** The scripts and styles of all pages, by the sweep that is shown, as far as they were weighed. */
export class SiteFiles {
  /** Distinct files, and how many of them were weighed. */
  @IsInt() files: number
  @IsInt() weighed: number
  /** Looked for in vain: their addresses change, or they are not there any more. */
  @IsInt() lost: number
  /** Pages that have all that is left to be weighed, or all of it where nothing is. */
  @IsInt() pagesToLookAt: number
  @IsInt() waiting: number
  @ValidateNested({ each: true }) @Type(() => UnlookedFiles) failed: UnlookedFiles[]
  @IsOptional() @IsDateString() since: string | null
  @IsBoolean() byViews: boolean
  /** What the weighed ones weigh in 1,000 page views. */
  @IsNumber() together: number
  @IsNumber() leastBytes: number
  @ValidateNested({ each: true }) @Type(() => SiteFile) found: SiteFile[]
}
