import { IsArray, IsDateString, IsIn, IsInt, IsNumber, IsOptional, IsString, ValidateNested } from 'class-validator'
import { Type } from '../nested/type.js'

export const FILM_SIDES = ['before', 'after'] as const
export type FilmSide = (typeof FILM_SIDES)[number]

/** What came for one payer. Milliseconds since the load began. */
export class FilmLaneView {
  @IsString() payer: string
  @IsString() name: string
  @IsInt() transferBytes: number
  /** From and until, request by request. */
  @IsArray() spans: [number, number][]
}

/** A load as it was seen. Its times are those of a browser that took pictures meanwhile, and are no figures. */
export class FilmedLoad {
  @IsIn(FILM_SIDES) side: FilmSide
  @IsOptional() @IsNumber() firstPaintMs: number | null
  @IsOptional() @IsNumber() largestPaintMs: number | null
  @IsOptional() @IsNumber() loadMs: number | null
  /** When each frame was painted, rising; the first stands for the empty window. */
  @IsArray() @IsNumber({}, { each: true }) frames: number[]
  @ValidateNested({ each: true }) @Type(() => FilmLaneView) lanes: FilmLaneView[]
}

/** The newest film of a page before and after a change. */
export class FilmView {
  /** Null where the page was never filmed for this proof. */
  @IsOptional() @IsInt() id: number | null
  @IsIn(['none', 'waiting', 'done']) state: 'none' | 'waiting' | 'done'
  @IsOptional() @IsString() failure: string | null
  @IsOptional() @IsDateString() takenAt: string | null
  @ValidateNested({ each: true }) @Type(() => FilmedLoad) loads: FilmedLoad[]
}
