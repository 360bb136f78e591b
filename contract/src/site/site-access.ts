import { Type } from '../nested/type.js'
import {
  ArrayMaxSize,
  IsArray,
  IsOptional,
  IsString,
  Length,
  Matches,
  MaxLength,
  ValidateNested,
} from 'class-validator'

/** Header names of RFC 9110 that mean nothing to the connection or to Unvelt itself. */
const NAME = /^(?!(?:host|cookie|connection|content-.*|transfer-encoding|te|upgrade|unvelt-.*)$)[!#$%&'*+.^_`|~\w-]+$/i
/** What a header may hold: no control characters, and no space at either end. */
const VALUE = /^[\x21-\x7e\x80-\xff](?:[\x20-\x7e\x80-\xff]*[\x21-\x7e\x80-\xff])?$/

export class AccessHeader {
  @Length(1, 100, { message: 'Please enter the header’s name.' })
  @Matches(NAME, { message: 'Expected a header’s name that nothing else needs, as X-Let-In.' })
  name: string

  /** Left out where the one that is kept stays. */
  @IsOptional()
  @MaxLength(2000)
  @Matches(VALUE, { message: 'Expected a value without line breaks.' })
  value?: string
}

/** By what a site that is closed to the public lets Unvelt in: HTTP Basic, headers, or both. */
export class AccessWish {
  @IsOptional()
  @IsString()
  @MaxLength(200)
  @Matches(/^[^:\p{Cc}]*$/u, { message: 'A name has no colon in it.' })
  user?: string

  /** Left out where the one that is kept stays. */
  @IsOptional() @IsString() @MaxLength(500) password?: string

  @IsOptional()
  @IsArray()
  @ArrayMaxSize(10)
  @ValidateNested({ each: true })
  @Type(() => AccessHeader)
  headers?: AccessHeader[]
}

/** The same as it is shown: nothing that is secret. */
export class AccessView {
  @IsOptional() @IsString() user: string | null
  @IsString({ each: true }) headers: string[]
}
