import { IsArray, IsIn, IsInt, IsObject, IsOptional, IsString, ValidateNested } from 'class-validator'
import { Type } from '../nested/type.js'
import { LINT_KINDS, type LintKind, type WayOut } from '@unvelt/core'
import { RuleView } from './rule.js'

/** A rule that a finding is about, and whether it is a draft still. */
export class FoundRule {
  @ValidateNested() @Type(() => RuleView) rule: RuleView
  @IsIn(['live', 'draft']) state: 'live' | 'draft'
}

/** How the files of an add-on come into a page. */
export class WayIn {
  /** Name of the add-on whose file asks; null for the page's own tags and code. */
  @IsOptional() @IsString() by: string | null
  @IsIn(['tag', 'script', 'style', 'redirect']) how: 'tag' | 'script' | 'style' | 'redirect'
  /** One of the files. */
  @IsString() url: string
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
  /** Of what arrives all the same: who brings it in. */
  @ValidateNested({ each: true }) @Type(() => WayIn) broughtIn: WayIn[]
}
