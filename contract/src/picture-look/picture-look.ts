import { PICTURE_PLACES, type PicturePlace } from '@unvelt/core'
import { Type } from '../nested/type.js'
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

/** A picture as one lens draws it. */
export class PictureThroughView {
  /** Which of the look's lenses, from 0. */
  @IsInt() through: number
  @IsInt() times: number
  /** The largest size at which it is drawn, in device pixels; 0 where it is not shown. */
  @IsInt() width: number
  @IsInt() height: number
  @IsIn(PICTURE_PLACES) where: PicturePlace
  @IsBoolean() lazy: boolean
  @IsBoolean() isLargest: boolean
}

/** One file that a page draws, and what it could weigh. */
export class LookedAtPicture {
  @IsString() url: string
  /** From one of the site's own hosts. */
  @IsBoolean() isOwn: boolean
  /** As its bytes say: jpeg, png, webp, avif, gif, svg; empty where they say nothing. */
  @IsString() format: string
  /** Of its bytes; what was looked at in an earlier version has none. */
  @IsOptional() @IsString() hash?: string
  /** Bytes of its body. */
  @IsInt() bytes: number
  /** Pixels of the file. */
  @IsInt() fileWidth: number
  @IsInt() fileHeight: number
  /** The largest size at which any lens draws it, in device pixels; 0 where it is not shown. */
  @IsInt() drawnWidth: number
  @IsInt() drawnHeight: number
  /** The size at which it was made anew. */
  @IsInt() neededWidth: number
  @IsInt() neededHeight: number
  @IsInt() times: number
  /** As far up, and as soon, as any lens has it. */
  @IsIn(PICTURE_PLACES) where: PicturePlace
  @IsBoolean() lazy: boolean
  @IsBoolean() isLargest: boolean
  /** Lens by lens; what was looked at in an earlier version has none. */
  @IsOptional() @ValidateNested({ each: true }) @Type(() => PictureThroughView) drawnThrough?: PictureThroughView[]
  /** What is lighter than the file, the lightest first. */
  @ValidateNested({ each: true }) @Type(() => RemadePicture) remade: RemadePicture[]
  /** Why it was not made anew. */
  @IsOptional() @IsString() why: string | null
}

/** A frame of a page. */
export class LookedAtFrame {
  @IsString() url: string
  /** From one of the site's own hosts. */
  @IsBoolean() isOwn: boolean
  /** As far up as any lens has it. */
  @IsIn(PICTURE_PLACES) where: PicturePlace
  @IsBoolean() lazy: boolean
  /** Lens by lens; what was looked at in an earlier version has none. */
  @IsOptional() @ValidateNested({ each: true }) @Type(() => PictureThroughView) drawnThrough?: PictureThroughView[]
}

/** A lens that a look was taken through. */
export class LookedThroughLens {
  @IsString() name: string
  @IsIn(['desk', 'handset']) device: 'desk' | 'handset'
  /** Device pixels to one CSS pixel, and the width of the view in those. */
  @IsNumber() ratio: number
  @IsInt() viewWidth: number
}

/** The pictures of a page, as they were at one time. */
export class PictureLook {
  @IsInt() id: number
  @IsBoolean() underWay: boolean
  @IsDateString() takenAt: string
  @IsOptional() @IsString() failure: string | null
  @IsNumber() similarity: number
  /** The lenses that it was taken through, one of each device. */
  @ValidateNested({ each: true }) @Type(() => LookedThroughLens) lenses: LookedThroughLens[]
  /** How many there are to be looked at; null before that is known. */
  @IsOptional() @IsInt() toLookAt: number | null
  @ValidateNested({ each: true }) @Type(() => LookedAtPicture) pictures: LookedAtPicture[]
  /** Nothing was told of them in earlier versions. */
  @ValidateNested({ each: true }) @Type(() => LookedAtFrame) frames: LookedAtFrame[]
  /** Under so many bytes a saving is too small to matter: the least difference of what its pictures weigh together. */
  @IsInt() leastBytes: number
}

export class PictureLookView {
  @IsOptional() @ValidateNested() @Type(() => PictureLook) newest: PictureLook | null
}

/** A picture over all pages that were looked at. */
export class SitePicture {
  /** As it is on the page that needs it largest. */
  @ValidateNested() @Type(() => LookedAtPicture) picture: LookedAtPicture
  @IsInt() pageId: number
  /** The look at that page, and the picture's place in it. */
  @IsInt() lookId: number
  @IsInt() n: number
  @IsInt({ each: true }) pageIds: number[]
  /** Every address that gives the very same bytes. */
  @IsString({ each: true }) addresses: string[]
  /** Bytes in 1,000 page views, where it is not only loaded when it is scrolled to. */
  @IsNumber() spared: number
  /** Bytes that come again in 1,000 page views, since a page asks for it under several addresses. */
  @IsNumber() twice: number
  /** It has come otherwise since it was looked at. */
  @IsBoolean() changed: boolean
}

/** A page whose pictures could not be looked at. */
export class UnlookedPage {
  @IsInt() pageId: number
  @IsString() failure: string
}

/** The pictures of all pages, as far as they were looked at. */
export class SitePictures {
  /** Pages that can be looked at, that were, and that wait for it. */
  @IsInt() pages: number
  @IsInt() looked: number
  @IsInt() waiting: number
  @ValidateNested({ each: true }) @Type(() => UnlookedPage) failed: UnlookedPage[]
  @IsNumber() similarity: number
  /** The oldest of the looks. */
  @IsOptional() @IsDateString() since: string | null
  /** Whether pages are weighted by their views; else all count alike. */
  @IsBoolean() byViews: boolean
  /** What all pictures weigh in 1,000 page views, those that wait to be scrolled to among them. */
  @IsNumber() together: number
  /** Under so many bytes in 1,000 page views a saving is too small to matter. */
  @IsNumber() leastBytes: number
  @ValidateNested({ each: true }) @Type(() => SitePicture) pictures: SitePicture[]
}
