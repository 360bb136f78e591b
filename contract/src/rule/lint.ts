import { IsArray, IsIn, IsInt, IsObject, IsOptional, IsString, ValidateNested } from 'class-validator'
import { Type } from 'class-transformer'
import { LINT_KINDS, type LintKind, type WayOut } from '@unvelt/core'
import { RuleView } from './rule.js'

/** A rule that a finding is about, and whether it is a draft still. */
export class FoundRule {
  @ValidateNested() @Type(() => RuleView) rule: RuleView
  @IsIn(['live', 'draft']) state: 'live' | 'draft'
}

/** Something that is wrong with rules taken together, and the way out. */
export class RuleFinding {
  @IsIn(LINT_KINDS) kind: LintKind
  /** The one that it is about first. */
  @ValidateNested({ each: true }) @Type(() => FoundRule) rules: FoundRule[]
  /** The first pages that it shows on, and how many there are. */
  @IsArray() @IsString({ each: true }) pages: string[]
  @IsInt() pageCount: number
  /** What else has part in it, by its name: an add-on that needs another, the version of one. */
  @IsOptional() @IsString() about: string | null
  @IsObject() wayOut: WayOut
}
