import { Type } from '../nested/type.js'
import {
  IsBoolean,
  IsDateString,
  IsIn,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  Length,
  Max,
  Min,
  ValidateNested,
} from 'class-validator'
import { EFFECTS, HOLD_UNTIL, ORDERS, type Effect, type HoldUntil, type Order } from '@unvelt/core'

const LARGEST_ID = 2_147_483_647

export class GentlerEffectView {
  @IsIn(EFFECTS) effect: Effect
  @IsOptional() @IsIn(HOLD_UNTIL) until?: HoldUntil
  @IsOptional() @IsIn(ORDERS) order?: Order
  /** Only these files of the add-on. */
  @IsOptional() @IsString({ each: true }) files?: string[]
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

/** An add-on on a page, of which the effect that spares the most without breaking anything is looked for. */
export class BestEffectRequest {
  @IsString() @Length(1, 200) addon: string
  @Type(() => Number) @IsInt() @Min(1) @Max(LARGEST_ID) pageId: number
}

/** The search for the gentlest effect that works in the place of a draft that breaks something. */
export class GentleSearch {
  @IsInt() id: number
  @IsString() draftId: string
  /** The add-on, where nobody had drafted anything about it; null beside a draft that broke something. */
  @IsOptional() @IsString() addon: string | null
  @IsInt() rehearsalId: number
  @IsString() path: string
  @IsString() kind: string
  @IsString() lens: string
  /** The page is being read with and without the add-on; nothing has been tried in its place yet. */
  @IsBoolean() reading: boolean
  @IsIn(['running', 'done', 'stopped', 'failed']) state: 'running' | 'done' | 'stopped' | 'failed'
  @IsOptional() @IsString() failure: string | null
  /** What is tried, in this order, until something passes. */
  @ValidateNested({ each: true }) @Type(() => GentlerEffectView) effects: GentlerEffectView[]
  @ValidateNested({ each: true }) @Type(() => TriedEffect) tries: TriedEffect[]
  /** What breaks nothing and spares the most until the page has loaded; null while nothing has. */
  @IsOptional() @ValidateNested() @Type(() => TriedEffect) found: TriedEffect | null
  /** The page without the draft, and with it as it was. */
  @ValidateNested() @Type(() => LoadedFigures) without: LoadedFigures
  @ValidateNested() @Type(() => LoadedFigures) asItWas: LoadedFigures
  @IsDateString() startedAt: string
  @IsOptional() @IsDateString() finishedAt: string | null
}
