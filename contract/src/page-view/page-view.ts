import { Type } from '../nested/type.js'
import { IsInt, IsString, ValidateNested } from 'class-validator'

/** A line that could not be read. */
export class BadLine {
  @IsInt() line: number
  @IsString() text: string
}

/** What came of a log or a table of page views. */
export class PageViewImport {
  @IsInt() lines: number
  @IsInt() views: number
  @IsInt() bots: number
  /** Lines about anything but a page shown to somebody. */
  @IsInt() passedOver: number
  @IsInt() bad: number
  /** The first lines that could not be read. */
  @ValidateNested({ each: true }) @Type(() => BadLine) badLines: BadLine[]
  /** Pages that have views now. */
  @IsInt() pages: number
  /** Paths of a table that are no pages of the site. */
  @IsString({ each: true }) strange: string[]
}
