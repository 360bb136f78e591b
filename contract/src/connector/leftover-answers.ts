import { Type } from '../nested/type.js'
import {
  ArrayMaxSize,
  IsArray,
  IsDateString,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Length,
  Matches,
  MaxLength,
  Min,
  ValidateNested,
} from 'class-validator'
import { OWN_PATH } from '@unvelt/core'

/** `tag` stands in the template, `block` in a page's words. */
export const LEFTOVER_TYPES = ['table', 'option', 'task', 'file', 'tag', 'block'] as const
export type LeftoverType = (typeof LEFTOVER_TYPES)[number]

class LeftoverAnswer {
  @IsString() @Length(1, 300) id: string = ''
  @IsIn(LEFTOVER_TYPES) type: LeftoverType = 'table'
  @IsString() @Length(1, 200) name: string = ''
  /** The add-on it belonged to. */
  @IsString() @MaxLength(200) of: string = ''
  @IsInt() @Min(0) bytes: number = 0
  @IsOptional() @IsInt() @Min(0) rows?: number
  /** For what stands in a page's words. */
  @IsOptional()
  @Matches(OWN_PATH, { message: 'path: expected a path that begins with /' })
  @MaxLength(2000)
  path?: string
  /** When its newest entry was written, or it was changed; left out where the site can't tell. */
  @IsOptional() @IsDateString() lastWritten?: string
  /** When somebody last asked for it. */
  @IsOptional() @IsDateString() lastRead?: string
  /** Why it is thought to be nobody's, in the site's words. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(10)
  @IsString({ each: true })
  @MaxLength(200, { each: true })
  because?: string[]
}

export class LeftoversAnswer {
  @IsArray()
  @ArrayMaxSize(20_000)
  @ValidateNested({ each: true })
  @Type(() => LeftoverAnswer)
  leftovers: LeftoverAnswer[] = []
}

export class LeftoversRemovedAnswer {
  @IsInt() @Min(0) removed: number = 0
}
