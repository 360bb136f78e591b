import { Type } from '../nested/type.js'
import { IsBoolean, IsDateString, IsIn, IsInt, IsNumber, IsOptional, IsString, ValidateNested } from 'class-validator'
import { EFFECTS, HOLD_UNTIL, ORDERS, type Effect, type HoldUntil, type Order } from '@unvelt/core'

export class GentlerEffectView {
  @IsIn(EFFECTS) effect: Effect
  @IsOptional() @IsIn(HOLD_UNTIL) until?: HoldUntil
  @IsOptional() @IsIn(ORDERS) order?: Order
}

/** What a page asks for until it has loaded. */
export class LoadedFigures {
  @IsNumber() requests: number
  @IsNumber() transferBytes: number
}

/** The page as it was with one effect in the place of another. */
export class TriedEffect extends GentlerEffectView {
  @IsBoolean() fails: boolean
  /** What fails, in a few words; null where nothing does. */
  @IsOptional() @IsString() why: string | null
  @IsInt() readings: number
  @ValidateNested() @Type(() => LoadedFigures) figures: LoadedFigures
}

/** The search for the gentlest effect that works in the place of a draft that breaks something. */
export class GentleSearch {
  @IsInt() id: number
  @IsString() draftId: string
  @IsString() path: string
  @IsString() lens: string
  @IsIn(['running', 'done', 'stopped', 'failed']) state: 'running' | 'done' | 'stopped' | 'failed'
  @IsOptional() @IsString() failure: string | null
  /** What is tried, in this order, until something passes. */
  @ValidateNested({ each: true }) @Type(() => GentlerEffectView) effects: GentlerEffectView[]
  @ValidateNested({ each: true }) @Type(() => TriedEffect) tries: TriedEffect[]
  /** What passes and spares the most; null while nothing has. */
  @IsOptional() @ValidateNested() @Type(() => TriedEffect) found: TriedEffect | null
  /** The page without the draft, and with it as it was. */
  @ValidateNested() @Type(() => LoadedFigures) without: LoadedFigures
  @ValidateNested() @Type(() => LoadedFigures) asItWas: LoadedFigures
  @IsDateString() startedAt: string
  @IsOptional() @IsDateString() finishedAt: string | null
}
