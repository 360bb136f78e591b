import { Type } from '../nested/type.js'
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsDateString,
  IsInt,
  IsOptional,
  IsString,
  Length,
  Matches,
  MaxLength,
  ValidateNested,
} from 'class-validator'

/** Pages that have a name together, as the maintainer writes it. */
export class PageSetInput {
  @IsString() @Length(1, 60) @Matches(/\S/, { message: 'name: expected a name' }) name: string
  @IsOptional() @IsString() @MaxLength(2000) note?: string
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(2000)
  @IsString({ each: true })
  @MaxLength(2000, { each: true })
  paths: string[]
}

export class PageSet {
  @IsInt() id: number
  @IsString() name: string
  @IsString() note: string
  @IsString({ each: true }) paths: string[]
  /** Those of them that the site has no more. */
  @IsString({ each: true }) gone: string[]
  /** Rules that say its name. */
  @IsInt() liveRules: number
  @IsInt() drafts: number
  @IsDateString() changedAt: string
}

export class PageSetChanged {
  @ValidateNested({ each: true }) @Type(() => PageSet) sets: PageSet[]
  /** Drafts by which live rules follow. */
  @IsInt() drafted: number
}
