import { Type } from '../nested/type.js'
import { IsBoolean, IsIn, IsInt, IsOptional, IsString, Length, MaxLength, ValidateNested } from 'class-validator'

export const ENTRY_KINDS = ['plugin', 'widget', 'font', 'outside script', 'theme', 'built-in', 'snippet'] as const

/** Charges every file that fits a pattern to an add-on, in past sweeps too. */
export class PatternInput {
  /** A path, or a whole address, in URLPattern syntax. */
  @IsString() @Length(1, 500) pattern: string
  /** Slug of an add-on of the inventory; or of a new entry, where `name` says what it is called. */
  @IsString() @Length(1, 200) addon: string
  @IsOptional() @IsString() @MaxLength(200) name?: string
  @IsOptional() @IsIn(ENTRY_KINDS) kind?: (typeof ENTRY_KINDS)[number]
}

export class Pattern {
  @IsInt() id: number
  @IsString() pattern: string
  @IsString() addon: string
  @IsString() addonName: string
}

export class Patterns {
  @ValidateNested({ each: true }) @Type(() => Pattern) patterns: Pattern[]
  /** Whether past sweeps are being worked out anew. */
  @IsBoolean() recomputing: boolean
}
