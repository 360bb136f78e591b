import { Type } from 'class-transformer'
import {
  IsBoolean,
  IsDateString,
  IsIn,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  Max,
  Min,
  ValidateNested,
} from 'class-validator'

/** How similar a re-made picture stays to its original where nothing else is asked for. */
export const STANDARD_SIMILARITY = 0.98
export const REMADE_AS = ['same', 'webp', 'avif'] as const
export type RemadeAs = (typeof REMADE_AS)[number]

export class PictureLookRequest {
  /** Least structural similarity, 1 for the same. */
  @IsOptional() @IsNumber() @Min(0.8) @Max(0.999) similarity?: number
}

/** A picture made anew at the size at which it is drawn. */
export class RemadePicture {
  /** Its own format, or another. */
  @IsIn(REMADE_AS) as: RemadeAs
  @IsInt() bytes: number
  @IsInt() quality: number
  @IsNumber() similarity: number
}

/** One file that a page draws, and what it could weigh. */
export class LookedAtPicture {
  @IsString() url: string
  /** From one of the site's own hosts. */
  @IsBoolean() isOwn: boolean
  /** As its bytes say: jpeg, png, webp, avif, gif, svg; empty where they say nothing. */
  @IsString() format: string
  /** Bytes of its body. */
  @IsInt() bytes: number
  /** Pixels of the file. */
  @IsInt() fileWidth: number
  @IsInt() fileHeight: number
  /** The largest size at which it is drawn, in device pixels; 0 where it is not shown. */
  @IsInt() drawnWidth: number
  @IsInt() drawnHeight: number
  /** The size at which it was made anew. */
  @IsInt() neededWidth: number
  @IsInt() neededHeight: number
  @IsInt() times: number
  @IsIn(['in view', 'further down', 'not shown']) where: 'in view' | 'further down' | 'not shown'
  @IsBoolean() lazy: boolean
  @IsBoolean() isLargest: boolean
  /** What is lighter than the file, the lightest first. */
  @ValidateNested({ each: true }) @Type(() => RemadePicture) remade: RemadePicture[]
  /** Why it was not made anew. */
  @IsOptional() @IsString() why: string | null
}

/** The pictures of a page, as they were at one time. */
export class PictureLook {
  @IsInt() id: number
  @IsBoolean() underWay: boolean
  @IsDateString() takenAt: string
  @IsOptional() @IsString() failure: string | null
  @IsNumber() similarity: number
  /** The lens's name is not told: device pixels to one CSS pixel, and the width of the view. */
  @IsNumber() ratio: number
  @IsInt() viewWidth: number
  /** How many there are to be looked at; null before that is known. */
  @IsOptional() @IsInt() toLookAt: number | null
  @ValidateNested({ each: true }) @Type(() => LookedAtPicture) pictures: LookedAtPicture[]
  /** Under so many bytes a saving is too small to matter: the least difference of what its pictures weigh together. */
  @IsInt() leastBytes: number
}

export class PictureLookView {
  @IsOptional() @ValidateNested() @Type(() => PictureLook) newest: PictureLook | null
}
