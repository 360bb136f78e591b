import { Type } from '../nested/type.js'
import { IsBoolean, IsDateString, IsIn, IsInt, IsOptional, IsString, ValidateNested } from 'class-validator'
import { MAY_BE_NEEDED, type MayBeNeeded } from '@unvelt/core'

export const NOWHERE_WHATS = ['selector', 'typeface', 'keyframes', 'function'] as const
export type NowhereWhat = (typeof NOWHERE_WHATS)[number]

/** Rules or functions of one sort: how many, and how many bytes of the file they are. */
export class NowhereCount {
  /** Why they may be needed all the same; null where nothing speaks for them. */
  @IsOptional() @IsIn(MAY_BE_NEEDED) because: MayBeNeeded | null
  @IsInt() rules: number
  @IsInt() bytes: number
}

/** A stylesheet or a script, and what of it no page and no step has used. */
export class NowhereFile {
  @IsIn(['style', 'script']) type: 'style' | 'script'
  /** Its place among those of the look. */
  @IsInt() n: number
  @IsString() url: string
  /** Who pays for it. */
  @IsString() payer: string
  @IsBoolean() isOwn: boolean
  /** Bytes, unpacked and as they come over the wire. */
  @IsInt() plain: number
  @IsInt() wire: number
  /** Pages that load it, in the shown sweep; sweeps in which it was looked at as it is now. */
  @IsInt() pages: number
  @IsInt() sweeps: number
  @ValidateNested({ each: true }) @Type(() => NowhereCount) counts: NowhereCount[]
  /** Bytes over the wire without the rules that nothing speaks for; null where it can't be told, and for scripts. */
  @IsOptional() @IsInt() cleanedWire: number | null
  /** Whether there is a cleaned file that the site could serve instead. */
  @IsBoolean() isCleaned: boolean
  /** Wire bytes that would be spared in 1,000 page views, each of which fetches what its page loads. */
  @IsInt() spared: number
  /** Why nothing is said of it. */
  @IsOptional() @IsString() why: string | null
}

export class NowhereView {
  @IsBoolean() underWay: boolean
  /** Null before anybody has looked. */
  @IsOptional() @IsDateString() takenAt: string | null
  @IsOptional() @IsString() failure: string | null
  /** Files that are looked at, and how many of them have been. */
  @IsOptional() @IsInt() toLookAt: number | null
  @IsInt() looked: number
  /** The sweep whose files they are; null where none has read anything. */
  @IsOptional() @IsInt() sweepId: number | null
  /** Whether a newer sweep has been read since. */
  @IsBoolean() isOld: boolean
  /** Scripts whose words were read for the names of classes. */
  @IsInt() scripts: number
  /** Through which lenses pages were looked at, and after which steps. */
  @IsString({ each: true }) lenses: string[]
  @IsString({ each: true }) steps: string[]
  /** Spared in 1,000 page views, below which it is too small to matter. */
  @IsInt() leastBytes: number
  @IsBoolean() byViews: boolean
  /** Whether the site serves a file that was made for it in the place of its own. */
  @IsBoolean() takesCopies: boolean
  @ValidateNested({ each: true }) @Type(() => NowhereFile) files: NowhereFile[]
}

export class NowhereRuleView {
  @IsIn(NOWHERE_WHATS) what: NowhereWhat
  @IsString() name: string
  @IsInt() line: number
  @IsInt() bytes: number
  @IsOptional() @IsIn(MAY_BE_NEEDED) because: MayBeNeeded | null
}

/** What of one file is used nowhere, rule by rule or function by function. */
export class NowhereRules {
  @IsString() url: string
  @ValidateNested({ each: true }) @Type(() => NowhereRuleView) rules: NowhereRuleView[]
  /** The stylesheet without what nothing speaks for; null for one of another company's, or where it can't be made. */
  @IsOptional() @IsString() cleaned: string | null
}

/** A cleaned stylesheet as a rule can say it. */
export class MadeCopyView {
  @IsString() addon: string
  /** The file that it stands in for, as rules name it. */
  @IsString() file: string
  /** Hashes of what is in it, and of the file that it was made from (SRI). */
  @IsString() content: string
  @IsString() from: string
  /** Rules of the stylesheet that it is without, and bytes over the wire by which it is lighter. */
  @IsInt() leftOut: number
  @IsInt() lighterBy: number
  /** The newest sweep in which they were looked for. */
  @IsInt() sweepId: number
}
